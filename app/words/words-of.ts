import { createElement, Fragment, type ReactNode } from "react";

/** What a place of a sentence is filled with: words, a part of the page, or what is put around a part of the sentence. */
type Filling = ReactNode | ((inner: ReactNode) => ReactNode);

/** A sentence as the build leaves it: words alone, or the elements of its ICU message. */
type Element =
  | { type: 0; value: string }
  | { type: 1; value: string }
  | { type: 5; value: string; options: Record<string, { value: Element[] }> }
  | { type: 6; value: string; options: Record<string, { value: Element[] }>; offset: number }
  | { type: 7 }
  | { type: 8; value: string; children: Element[] };

/** Says the sentences of one catalogue; what is filled with words alone comes as a text, all else as part of a page. */
export interface Words<Key extends string> {
  (key: Key, values?: Readonly<Record<string, string | number | false | null | undefined>>): string;
  (key: Key, values: Readonly<Record<string, Filling>>): ReactNode;
}

const rules = new Intl.PluralRules("en");

function partsOf(
  elements: readonly Element[],
  values: Readonly<Record<string, Filling>>,
  count?: number,
): ReactNode[] {
  return elements.flatMap((element): ReactNode[] => {
    if (element.type === 0) return [element.value];
    if (element.type === 7) return [count];
    const value = values[element.value];
    switch (element.type) {
      case 1:
        return [value as ReactNode];
      case 5: {
        const option = element.options[String(value)] ?? element.options.other;
        return option ? partsOf(option.value, values, count) : [];
      }
      case 6: {
        const number = Number(value);
        const { options } = element;
        const option =
          options[`=${number}`] ?? options[rules.select(number - element.offset)] ?? options.other;
        return option ? partsOf(option.value, values, number - element.offset) : [];
      }
      case 8: {
        const inner = together(partsOf(element.children, values, count));
        return [typeof value === "function" ? value(inner) : inner];
      }
    }
  });
}

/** Parts as one text where they are nothing but words. */
function together(parts: readonly ReactNode[]): ReactNode {
  const shown = parts.filter((part) => part !== null && part !== undefined && typeof part !== "boolean");
  return shown.every((part) => typeof part === "string" || typeof part === "number")
    ? shown.join("")
    : createElement(Fragment, null, ...shown);
}

/**
 * The words of a catalogue of pages. Its sentences are ICU messages; the build has read them (scripts/compiled-words.mjs)
 * and holds them against the places where they are used (scripts/words.mjs), so that no page carries a parser.
 */
export function wordsOf<Key extends string>(catalogue: Readonly<Record<Key, string>>): Words<Key> {
  const compiled = catalogue as unknown as Readonly<Record<Key, string | Element[]>>;
  return ((key: Key, values: Readonly<Record<string, Filling>> = {}) => {
    const sentence = compiled[key];
    return typeof sentence === "string" ? sentence : together(partsOf(sentence, values));
  }) as Words<Key>;
}

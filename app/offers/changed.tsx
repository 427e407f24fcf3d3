import { diffWordsWithSpace } from "diff";
import type { ReactNode } from "react";
import { styled } from "styled-components";
import { Small } from "../parts/sheet";
import { color } from "../theme/tokens";
import { settingWords, valueWords } from "./change-words";
import { t } from "../words/pages/offers-changes";

interface Changed {
  path: string;
  from: string | null;
  to: string | null;
}

const Words = styled.span`
  white-space: pre-line;
  overflow-wrap: anywhere;
  ins {
    text-decoration: none;
    background: ${color.petrolSoft};
    box-shadow: 0 2px 0 ${color.petrol};
  }
  del {
    color: ${color.inkSoft};
  }
`;

/** So many words may differ before two texts are shown whole, as two. */
const MOST_DIFFERING = 400;
/** What is left of words in between that did not change, at each end, where only the change is of interest. */
const AROUND = 40;

interface Part {
  words: string;
  of: "both" | "before" | "after";
}

/** The words of two texts, with whose they are; null where they are no texts, or have next to nothing in common. */
export function partsOf(from: string, to: string): Part[] | null {
  if (from === to || !/\S\s+\S/.test(from) || !/\S\s+\S/.test(to)) return null;
  const parts = diffWordsWithSpace(from, to, { maxEditLength: MOST_DIFFERING });
  if (!parts?.some((one) => !one.added && !one.removed && /[\p{L}\p{N}]/u.test(one.value))) return null;
  return parts.map(({ value, added, removed }) => ({
    words: value,
    of: added ? "after" : removed ? "before" : "both",
  }));
}

const shortened = (words: string): string =>
  words.length > 3 * AROUND ? `${words.slice(0, AROUND)} … ${words.slice(-AROUND)}` : words;

const draw = (parts: readonly Part[]): ReactNode => (
  <Words>
    {parts.map(({ words, of }, at) =>
      of === "both" ? words : of === "before" ? <del key={at}>{words}</del> : <ins key={at}>{words}</ins>,
    )}
  </Words>
);

/** A change with its values in words, and the words' parts where it is texts or lists that changed, and not numbers. */
function inWords({ path, from, to }: Changed, locale: string) {
  const words = (value: string | null) => (value === null ? null : valueWords(path, value, locale));
  const [before, after] = [words(from), words(to)];
  const isNumber = [from, to].every((value) => value !== null && /^-?\d+$/.test(value));
  const parts = before === null || after === null || isNumber ? null : partsOf(before, after);
  return { before, after, parts, same: from !== null && from === to };
}

const SAME = t("the-same-words-set-otherwise");

/** A value before and after a change, each for a place of its own; of texts, the words that differ are marked. */
export function bothValues(change: Changed, locale: string): [ReactNode, ReactNode] {
  const { before, after, parts, same } = inWords(change, locale);
  const alone = (words: string | null) =>
    words === null ? <Small as="span">{t("not-set")}</Small> : <Words>{words}</Words>;
  if (same) return [alone(before), <Small as="span">{SAME}</Small>];
  if (!parts) return [alone(before), alone(after)];
  return [draw(parts.filter(({ of }) => of !== "after")), draw(parts.filter(({ of }) => of !== "before"))];
}

/** A change in a line: of texts the words that went and came, with what stands around them. */
export function ChangeInLine({ change, locale }: { change: Changed; locale: string }) {
  const { before, after, parts, same } = inWords(change, locale);
  const around = parts?.map((one) => (one.of === "both" ? { ...one, words: shortened(one.words) } : one));
  return (
    <>
      {settingWords(change.path)}
      <Small as="span">
        {": "}
        {same ? SAME : around ? draw(around) : `${before ?? t("not-set")} → ${after ?? t("not-set")}`}
      </Small>
    </>
  );
}

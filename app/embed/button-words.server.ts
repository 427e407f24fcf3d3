import { type ButtonFacts, buttonView, type ButtonView } from "#core/buttons/button";
import type { WalletRefusal } from "#core/buttons/course";
import { directionOf } from "../checkouts/words";
import bought from "../words/buy.json";
import { embedWords } from "./notice-words.server";

/** A button in a shopper's words. */
export function writeButton(facts: ButtonFacts, language: string): ButtonView {
  const { spoken, words } = embedWords(language);
  const { label } = facts.settings;
  // A name is put in as it is, whatever letters it has.
  const text = label === "name" ? facts.name : words[label].replace("{name}", () => facts.name);
  return buttonView(facts, {
    ...{ language: spoken, direction: directionOf(spoken), text, trouble: words.trouble },
  });
}

const refusals = {
  silent: "silent",
  "not-served": "notServed",
  "sold-out": "soldOut",
  changed: "changed",
  "not-offered": "notOffered",
  over: "over",
} as const satisfies Record<Exclude<WalletRefusal, "elsewhere">, string>;

/** Why something cannot be bought at an address, in a shopper's words. */
export function writeButtonRefusal(because: WalletRefusal, language: string): string {
  const { spoken, words } = embedWords(language);
  // The page of a purchase says the same.
  return because === "elsewhere" ? bought[spoken].elsewhere : words[refusals[because]];
}

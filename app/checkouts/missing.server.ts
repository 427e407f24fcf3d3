import Negotiator from "negotiator";
import { data } from "react-router";
import catalogue from "../words/missing.json";
import mine from "../words/mine.json";

/** What a shopper reads instead of a page, and in which language that is. */
export interface Missing {
  language: string;
  title: string;
  says?: string;
}

/** The language of a catalogue that the shopper's browser likes best; English where it likes none of them. */
export function wished(request: Request, known: readonly string[]): string {
  const headers = { "accept-language": request.headers.get("accept-language") ?? "" };
  const accepted = new Negotiator({ headers }).languages();
  const bases = accepted.map((one) => one.split("-")[0]?.toLowerCase() ?? "");
  return bases.find((one) => known.includes(one)) ?? "en";
}

const of = <W>(words: Readonly<Record<string, W> & { en: W }>, request: Request): [string, W] => {
  const language = wished(request, Object.keys(words));
  return [language, words[language] ?? words.en];
};

/** The answer to a shopper whose address leads to no checkout and no purchase, in the language that their browser wishes. */
export function leadsNowhere(request: Request) {
  const [language, words] = of(catalogue, request);
  return data<Missing>({ language, ...words }, { status: 404 });
}

/** The answer to a shopper whose page of what they have kept is over. */
export function isOverNow(request: Request) {
  const [language, words] = of(mine, request);
  return data<Missing>({ language, title: words.over }, { status: 410 });
}

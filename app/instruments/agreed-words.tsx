import type { Consent } from "#core/instruments";

/** What a shopper agreed to, in the words and the language in which they read it. */
export const AgreedWords = ({ of: { words, language } }: { of: Pick<Consent, "words" | "language"> }) => (
  <blockquote lang={language}>
    {words.split("\n").map((line) => (
      <div key={line}>{line}</div>
    ))}
  </blockquote>
);

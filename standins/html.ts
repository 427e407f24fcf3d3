/** A piece of HTML that is safe to insert as it stands. */
export class Html {
  constructor(readonly text: string) {}
  toString() {
    return this.text;
  }
}

const escapes: Record<string, string> = {
  "&": "&amp;",
  "<": "&lt;",
  ">": "&gt;",
  '"': "&quot;",
  "'": "&#39;",
};
export const escape = (text: string) => text.replace(/[&<>"']/g, (c) => escapes[c] ?? c);

type Part = Html | string | number | false | null | undefined | Part[];
const write = (part: Part): string =>
  Array.isArray(part)
    ? part.map(write).join("")
    : part instanceof Html
      ? part.text
      : part === false || part === null || part === undefined
        ? ""
        : escape(String(part));

/** HTML from a template; every value is escaped unless it is `Html` itself. */
export const html = (strings: TemplateStringsArray, ...parts: Part[]) =>
  new Html(strings.reduce((all, text, i) => all + text + (i < parts.length ? write(parts[i]) : ""), ""));

/** Text that goes into a script or style element unescaped: only for constants of this program. */
export const raw = (text: string) => new Html(text);

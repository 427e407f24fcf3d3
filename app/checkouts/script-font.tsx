import arabic from "@fontsource-variable/noto-sans-arabic/index.css?url";
import japanese from "@fontsource-variable/noto-sans-jp/index.css?url";

/** Faces for scripts that the text face has no letters of, by language. Fetched by a page of that language alone. */
const faces: Readonly<Record<string, string>> = { ar: arabic, ja: japanese };

/** Brings along the face that a language's script needs; its letters come in pieces, as they are used. */
export function ScriptFont({ language }: { language: string }) {
  const href = faces[language.split("-")[0] ?? ""];
  return href ? <link rel="stylesheet" href={href} precedence="script" /> : null;
}

import arabic from "@fontsource-variable/noto-sans-arabic/index.css?url";
import japanese from "@fontsource-variable/noto-sans-jp/index.css?url";
import serif from "@fontsource-variable/source-serif-4/wght.css?url";
import type { Face } from "#core/looks/look";

/** Faces for scripts that the text face has no letters of, by language. Fetched by a page of that language alone. */
const scripts: Readonly<Record<string, string>> = { ar: arabic, ja: japanese };

/** Brings along the faces that a language's script and a shop's look need; their letters come in pieces, as they are used. */
export function ScriptFont({ language, face }: { language: string; face: Face }) {
  const script = scripts[language.split("-")[0] ?? ""];
  return (
    <>
      {face === "serif" && <link rel="stylesheet" href={serif} precedence="face" />}
      {script && <link rel="stylesheet" href={script} precedence="script" />}
    </>
  );
}

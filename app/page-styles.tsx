import { type PropsWithChildren, useContext } from "react";
import { type ServerStyleSheet, StyleSheetContext } from "styled-components";

type Compile = React.ContextType<typeof StyleSheetContext>["stylis"];

/** More classes than the whole application has; beyond it, something makes new ones for every page. */
const MOST = 5_000;
const compiled = new Map<string, string[]>();

/** Compiles the rules of a class once for the process: a class is named by what its rules say. */
function remembering(compile: Compile): Compile {
  const once = (css: string, selector = "", ...rest: [string?, string?]) => {
    const known = compiled.get(selector);
    if (known) return known;
    const rules = compile(css, selector, ...rest);
    if (compiled.size >= MOST) compiled.clear();
    compiled.set(selector, rules);
    return rules;
  };
  return Object.assign(once, { hash: compile.hash });
}

let shared: Compile | undefined;

/** Collects the styles of a page into its sheet, without compiling again what another page has compiled. */
export function PageStyles({ sheet, children }: PropsWithChildren<{ sheet: ServerStyleSheet }>) {
  const outer = useContext(StyleSheetContext);
  shared ??= remembering(outer.stylis);
  const value = { ...outer, styleSheet: sheet.instance, stylis: shared };
  return <StyleSheetContext value={value}>{children}</StyleSheetContext>;
}

import { json } from "@codemirror/lang-json";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import { EditorView } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { basicSetup } from "codemirror";
import { useEffect, useRef } from "react";
import type { DocumentProblem as SaidDocumentProblem } from "#core/profiles/limits";
import { useNonce } from "../nonce";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/profiles";

type DocumentProblem = Spoken<SaidDocumentProblem>;

const look = EditorView.theme({
  "&": {
    backgroundColor: "var(--sheet)",
    color: "var(--ink)",
    fontSize: "0.86rem",
    border: "1.5px solid var(--rule-strong)",
  },
  "&.cm-focused": { outline: "2px solid var(--petrol)" },
  ".cm-scroller": { fontFamily: "var(--mono)", maxHeight: "32rem", minHeight: "16rem" },
  ".cm-gutters": {
    backgroundColor: "var(--sunk)",
    color: "var(--ink-soft)",
    borderRight: "1px solid var(--rule)",
  },
  ".cm-activeLine, .cm-activeLineGutter": {
    backgroundColor: "color-mix(in srgb, var(--petrol) 8%, transparent)",
  },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-content": { caretColor: "var(--ink)" },
  ".cm-tooltip": { backgroundColor: "var(--sheet)", color: "var(--ink)", border: "1px solid var(--ink)" },
});

/** Names, texts and numbers apart by weight and by the theme's own inks, which hold in both themes. */
const inks = HighlightStyle.define([
  { tag: tags.propertyName, color: "var(--ink)", fontWeight: "600" },
  { tag: tags.string, color: "var(--petrol)" },
  { tag: [tags.number, tags.bool, tags.null], color: "var(--brass)" },
]);

/** An editor for a document, with each complaint at its line. Loaded only where it is used. */
export default function Editor({
  text,
  problems,
  onText,
}: {
  text: string;
  problems: readonly DocumentProblem[];
  onText: (text: string) => void;
}) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(null);
  const first = useRef(text);
  const nonce = useNonce();
  const tell = useRef(onText);
  useEffect(() => {
    tell.current = onText;
  }, [onText]);
  useEffect(() => {
    if (!host.current) return;
    const made = new EditorView({
      doc: first.current,
      parent: host.current,
      extensions: [
        basicSetup,
        json(),
        lintGutter(),
        syntaxHighlighting(inks),
        look,
        EditorView.cspNonce.of(nonce),
        EditorView.contentAttributes.of({ "aria-label": t("the-document") }),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) tell.current(update.state.doc.toString());
        }),
      ],
    });
    // What scrolls must be reachable by the keyboard.
    made.scrollDOM.tabIndex = 0;
    view.current = made;
    return () => made.destroy();
  }, [nonce]);
  // A file that was chosen replaces what stood there.
  useEffect(() => {
    const shown = view.current;
    if (shown && shown.state.doc.toString() !== text)
      shown.dispatch({ changes: { from: 0, to: shown.state.doc.length, insert: text } });
  }, [text]);
  useEffect(() => {
    const shown = view.current;
    if (!shown) return;
    const found = problems.map(({ line, at, says }): Diagnostic => {
      const where = shown.state.doc.line(Math.min(Math.max(1, line), shown.state.doc.lines));
      return { from: where.from, to: where.to, severity: "error", message: `${at} ${says}`.trim() };
    });
    shown.dispatch(setDiagnostics(shown.state, found));
    const [top] = found;
    if (top) shown.dispatch({ effects: EditorView.scrollIntoView(top.from, { y: "center" }) });
  }, [problems]);
  return <div ref={host} />;
}

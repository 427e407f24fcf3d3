import { EditorContent, useEditor, useEditorState } from "@tiptap/react";
import { StarterKit } from "@tiptap/starter-kit";
import { Bold, Heading, Italic, Link2, List, ListOrdered } from "lucide-react";
import { useEffect, useId, useRef, useState } from "react";
import { styled } from "styled-components";
import { mayLead, type RichText } from "#core/rich-text";
import { color } from "../theme/tokens";
import { t } from "../words/pages/parts";

const Frame = styled.div`
  border: 1.5px solid ${color.ruleStrong};
  background: ${color.sheet};
  &:focus-within {
    outline: 3px solid ${color.petrol};
    outline-offset: 1px;
  }
  .ProseMirror {
    min-height: 5rem;
    padding: 0.5rem 0.7rem;
    outline: none;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }
  .ProseMirror > * + * {
    margin-top: 0.5rem;
  }
  ul,
  ol {
    padding-left: 1.3rem;
    list-style: revert;
  }
`;
const Bar = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.15rem;
  border-bottom: 1px solid ${color.rule};
  padding: 0.2rem;
  button {
    min-width: 2rem;
    min-height: 2rem;
    display: inline-flex;
    align-items: center;
    justify-content: center;
    gap: 0.2rem;
    padding: 0 0.4rem;
    border: 1px solid transparent;
    background: none;
    cursor: pointer;
    font-size: 0.84rem;
  }
  button[aria-pressed="true"] {
    border-color: ${color.petrol};
    background: ${color.petrolSoft};
  }
`;

const LinkBar = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 0.4rem;
  border-bottom: 1px solid ${color.rule};
  padding: 0.4rem 0.5rem;
  label {
    display: grid;
    flex: 1 1 14rem;
    font-size: 0.84rem;
  }
  input {
    min-height: 2.2rem;
    border: 1.5px solid ${color.ruleStrong};
    padding: 0 0.5rem;
    background: ${color.sheet};
  }
  button {
    min-height: 2.2rem;
    border: 1.5px solid ${color.ruleStrong};
    padding: 0 0.7rem;
    background: none;
    cursor: pointer;
  }
  p {
    flex-basis: 100%;
    color: ${color.madder};
    font-size: 0.84rem;
  }
`;

/** What of the editor’s own kit a text may hold; the rest is switched off. */
const kit = StarterKit.configure({
  heading: { levels: [2, 3] },
  link: { openOnClick: false, autolink: true, protocols: ["mailto", "tel"] },
  blockquote: false,
  code: false,
  codeBlock: false,
  horizontalRule: false,
  strike: false,
  underline: false,
});

export interface RichTextBoxProps {
  label: string;
  value: RichText | null;
  lang: string;
  /** Places that are filled later, which a press puts in. */
  places: readonly string[];
  onChange: (text: RichText) => void;
  invalid?: boolean;
}

/** A text with headings, lists, bold, italic and links. */
export default function RichTextBox({ label, value, lang, places, onChange, invalid }: RichTextBoxProps) {
  const id = useId();
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  const shown = JSON.stringify(value);
  const own = useRef(shown);
  const editor = useEditor({
    extensions: [kit],
    content: value,
    // The page’s own styles say how it looks; none are written into it.
    injectCSS: false,
    immediatelyRender: false,
    editorProps: {
      attributes: {
        "aria-labelledby": id,
        role: "textbox",
        "aria-multiline": "true",
        lang,
        ...(invalid && { "aria-invalid": "true" }),
      },
    },
    onUpdate: ({ editor: now }) => {
      const text = now.getJSON() as RichText;
      own.current = JSON.stringify(text);
      latest.current(text);
    },
  });
  // What came from elsewhere (a discarded draft, somebody else’s revision) takes the place of what stands here.
  useEffect(() => {
    if (!editor || own.current === shown) return;
    own.current = shown;
    editor.commands.setContent(value ?? "", { emitUpdate: false });
  }, [editor, shown, value]);
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now?.isActive("bold") ?? false,
      italic: now?.isActive("italic") ?? false,
      heading: now?.isActive("heading") ?? false,
      bulletList: now?.isActive("bulletList") ?? false,
      orderedList: now?.isActive("orderedList") ?? false,
      link: now?.isActive("link") ?? false,
    }),
  });
  // Where a link is to lead while it is being typed; null: none is.
  const [typed, setTyped] = useState<string | null>(null);
  const refused = typed !== null && typed !== "" && !mayLead(typed.trim());
  const link = () => {
    if (on?.link) editor?.chain().focus().unsetLink().run();
    else setTyped(typed === null ? "" : null);
  };
  const setLink = () => {
    if (typed === null || !mayLead(typed.trim()) || !editor) return;
    const href = typed.trim();
    // Where nothing is marked, the address itself becomes the text.
    if (editor.state.selection.empty)
      editor
        .chain()
        .focus()
        .insertContent({ type: "text", text: href, marks: [{ type: "link", attrs: { href } }] })
        .run();
    else editor.chain().focus().extendMarkRange("link").setLink({ href }).run();
    setTyped(null);
  };
  const leaveLink = () => {
    setTyped(null);
    editor?.commands.focus();
  };
  const presses = [
    [t("heading"), Heading, on?.heading, () => editor?.chain().focus().toggleHeading({ level: 2 }).run()],
    [t("bold"), Bold, on?.bold, () => editor?.chain().focus().toggleBold().run()],
    [t("italic"), Italic, on?.italic, () => editor?.chain().focus().toggleItalic().run()],
    [t("list"), List, on?.bulletList, () => editor?.chain().focus().toggleBulletList().run()],
    [
      t("numbered-list"),
      ListOrdered,
      on?.orderedList,
      () => editor?.chain().focus().toggleOrderedList().run(),
    ],
    [t("link"), Link2, on?.link, link],
  ] as const;
  return (
    <div>
      <div id={id}>{label}</div>
      <Frame>
        <Bar role="toolbar" aria-label={t("label-form", { label })}>
          {presses.map(([name, Icon, pressed, act]) => (
            <button key={name} type="button" aria-label={name} aria-pressed={pressed ?? false} onClick={act}>
              <Icon size={16} aria-hidden />
            </button>
          ))}
          {places.map((place) => (
            <button
              key={place}
              type="button"
              aria-label={t("put-in-place", { place })}
              onClick={() => editor?.chain().focus().insertContent(`{${place}}`).run()}
            >
              {`{${place}}`}
            </button>
          ))}
        </Bar>
        {typed !== null && (
          <LinkBar role="group" aria-label={t("label-link", { label })}>
            <label>
              {t("where-the-link-leads")}
              <input
                autoFocus
                inputMode="url"
                autoComplete="off"
                placeholder="https://"
                value={typed}
                aria-invalid={refused}
                onChange={(event) => setTyped(event.currentTarget.value)}
                onKeyDown={(event) => {
                  if (event.key === "Escape") leaveLink();
                  if (event.key !== "Enter") return;
                  event.preventDefault();
                  setLink();
                }}
              />
            </label>
            <button type="button" onClick={setLink} disabled={!mayLead(typed.trim())}>
              {t("set-the-link")}
            </button>
            <button type="button" onClick={leaveLink}>
              {t("leave-it")}
            </button>
            {refused && <p>{t("links-begin-with-https-http")}</p>}
          </LinkBar>
        )}
        <EditorContent editor={editor} />
      </Frame>
    </div>
  );
}

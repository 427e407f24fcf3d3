import type { ReactNode } from "react";
import { type Block, type Inline, isList, type Mark, type RichText } from "#core/rich-text";

function Marked({ marks, children }: { marks: readonly Mark[]; children: ReactNode }): ReactNode {
  const [mark, ...rest] = marks;
  if (!mark) return children;
  const inner = <Marked marks={rest}>{children}</Marked>;
  switch (mark.type) {
    case "bold":
      return <strong>{inner}</strong>;
    case "italic":
      return <em>{inner}</em>;
    case "link":
      return (
        <a href={mark.attrs.href} rel="noreferrer noopener" target="_blank">
          {inner}
        </a>
      );
  }
}

const inline = (list: readonly Inline[] = []) =>
  list.map((one, i) =>
    one.type === "hardBreak" ? (
      <br key={i} />
    ) : (
      <Marked key={i} marks={one.marks ?? []}>
        {one.text}
      </Marked>
    ),
  );

function BlockView({ block, level }: { block: Block; level: number }): ReactNode {
  if (isList(block)) {
    const List = block.type === "orderedList" ? "ol" : "ul";
    return (
      <List className="words">
        {block.content.map((item, i) => (
          <li key={i}>
            {item.content.map((one, j) => (
              <BlockView key={j} block={one} level={level} />
            ))}
          </li>
        ))}
      </List>
    );
  }
  if (block.type === "paragraph") return <p>{inline(block.content)}</p>;
  const Title = `h${Math.min(6, level + block.attrs.level - 2)}` as "h3";
  return <Title>{inline(block.content)}</Title>;
}

/** Shows a text as what it is made of; its headings begin at `level`. */
export function RichTextView({ text, level }: { text: RichText; level: number }) {
  return text.content.map((block, i) => <BlockView key={i} block={block} level={level} />);
}

import { FileUp } from "lucide-react";
import { type ReactNode, useId, useRef } from "react";
import { useDrop } from "react-aria/useDrop";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { Hint, Wrong } from "./form";

const Place = styled.div<{ $over: boolean }>`
  position: relative;
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.8rem;
  align-items: center;
  padding: 0.4rem 0.6rem;
  border: 1.5px dashed ${({ $over }) => ($over ? color.petrol : color.ruleStrong)};
  border-radius: 2px;
  background: ${({ $over }) => ($over ? color.petrolSoft : "none")};
  /* The browser's own box for files is there for the keyboard and for readers; what is seen is the press beside it. */
  input {
    position: absolute;
    width: 1px;
    height: 1px;
    opacity: 0;
  }
  label {
    display: inline-flex;
    gap: 0.45rem;
    align-items: center;
    min-height: 2.25rem;
    padding: 0.35rem 0.9rem;
    border: 1.5px solid ${color.ruleStrong};
    border-radius: 2px;
    background: ${color.sheet};
    font-weight: 600;
    cursor: pointer;
  }
  label:hover {
    border-color: ${color.petrol};
    color: ${color.petrol};
  }
  input:focus-visible + label {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
`;

interface Props {
  /** What it is called to a reader, and what its press says. */
  label: string;
  press: string;
  hint: ReactNode;
  accept?: string;
  wrong?: ReactNode;
  onFile: (file: File) => void;
}

/** One file: chosen by a press, or dropped here. The same file can be given again after it was mended. */
export function FileBox({ label, press, hint, accept, wrong, onFile }: Props) {
  const id = useId();
  const place = useRef<HTMLDivElement>(null);
  const { dropProps, isDropTarget } = useDrop({
    ref: place,
    onDrop: ({ items }) => {
      const found = items.find((item) => item.kind === "file");
      if (found) void found.getFile().then(onFile);
    },
  });
  return (
    <div>
      <Place ref={place} {...dropProps} $over={isDropTarget}>
        <input
          id={id}
          type="file"
          accept={accept}
          aria-label={label}
          aria-describedby={`${id}-hint`}
          onChange={(event) => {
            const [file] = event.currentTarget.files ?? [];
            if (file) onFile(file);
            event.currentTarget.value = "";
          }}
        />
        <label htmlFor={id}>
          <FileUp size={16} aria-hidden /> {press}
        </label>
        <Hint id={`${id}-hint`}>{hint}</Hint>
      </Place>
      <Wrong>{wrong}</Wrong>
    </div>
  );
}

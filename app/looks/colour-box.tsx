import { styled } from "styled-components";
import { colourOf, READ } from "#core/looks/colours";
import type { Unreadable } from "#core/looks/look";
import { said } from "#core/said";
import { Button, FieldSet, Hint, Wrong } from "../parts/form";
import { Row } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { color } from "../theme/tokens";
import { looking } from "./looking";
import { t } from "../words/pages/looks";

const Swatch = styled.input`
  width: 3rem;
  height: 2.25rem;
  padding: 0.1rem;
  border: 1.5px solid ${color.ruleStrong};
  background: ${color.sheet};
  cursor: pointer;
`;

/** A colour: picked or written, with whether it can be read, and the nearest that can. */
export function ColourBox({
  name,
  label,
  hint,
  usual,
  text,
  onText,
  trouble,
  wrong,
}: {
  name: string;
  label: string;
  hint: string;
  usual: string;
  text: string;
  onText: (text: string) => void;
  trouble: Unreadable | null;
  wrong: string | undefined;
}) {
  const instead = trouble?.instead;
  const says = trouble
    ? looking("en").say(
        instead
          ? said("look.hard-to-read", { contrast: trouble.contrast, needed: READ, instead })
          : said("look.cannot-be-read", { contrast: trouble.contrast, needed: READ }),
      )
    : wrong;
  return (
    <FieldSet>
      <legend>{label}</legend>
      <Row>
        <Swatch
          type="color"
          aria-label={t("label-picked", { label })}
          value={colourOf(text) ?? usual}
          onChange={(event) => onText(event.currentTarget.value)}
        />
        <TextBox
          name={name}
          label={<span className="quiet">{t("label-written", { label })}</span>}
          value={text}
          placeholder={usual}
          size={9}
          maxLength={7}
          spellCheck={false}
          invalid={Boolean(says)}
          onChange={onText}
        />
      </Row>
      <Wrong>{says}</Wrong>
      {instead && (
        <div>
          <Button type="button" onClick={() => onText(instead)}>
            {t("take-instead", { instead })}
          </Button>
        </div>
      )}
      <Hint>{hint}</Hint>
    </FieldSet>
  );
}

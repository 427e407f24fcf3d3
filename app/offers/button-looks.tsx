import { styled } from "styled-components";
import { buttonView, type ButtonSettings, type ButtonTerms } from "#core/buttons/button";
import { t } from "../words/pages/offers";

const heights = { small: 40, usual: 48, large: 56 };
const corners = { square: "0", soft: "8px", round: "28px" };

const Drawn = styled.span<{ $ground: string; $ink: string; $height: number; $corner: string }>`
  display: flex;
  align-items: center;
  justify-content: center;
  width: 100%;
  max-width: 20rem;
  height: ${({ $height }) => $height}px;
  border: 1px solid ${({ $ink }) => $ink};
  border-radius: ${({ $corner }) => $corner};
  background: ${({ $ground }) => $ground};
  color: ${({ $ink }) => $ink};
  font-weight: 600;
`;

/** A button as it will stand on the shop's pages, which nobody can press here. */
export function ButtonLooks({
  settings,
  terms,
  text,
}: {
  settings: ButtonSettings;
  terms: ButtonTerms;
  text: string;
}) {
  const facts = { offer: "", name: text, settings, terms };
  const { ground, ink, shape, size } = buttonView(facts, {
    ...{ language: "en", direction: "ltr", text, trouble: "" },
  });
  return (
    <Drawn
      role="img"
      aria-label={t("text-as-shoppers-see-it", { text })}
      $ground={ground}
      $ink={ink}
      $height={heights[size]}
      $corner={corners[shape]}
    >
      {text}
    </Drawn>
  );
}

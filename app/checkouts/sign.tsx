import { styled } from "styled-components";
import type { Shown } from "#core/offers/decide";
import type { OfferIcon } from "#core/offers/icons";
import { color } from "../theme/tokens";
import { pictureAddress } from "./picture-address";

const Drawn = styled.svg`
  width: 2.1rem;
  height: 1.5rem;
  flex: none;
  fill: none;
  stroke: ${color.ink};
  stroke-width: 1.6;
  stroke-linecap: round;
  stroke-linejoin: round;
`;
/** A picture is drawn for paper: where the page is dark it stands on a plate of its own. */
const Plate = styled.img`
  width: auto;
  height: auto;
  max-width: 4.2rem;
  max-height: 1.6rem;
  flex: none;
  background: #fffdf8;
  border-radius: 2px;
`;

/** Drawn within 28 × 20. */
const drawings: Record<OfferIcon, string> = {
  card: "M3.5 3h21v14h-21zM3.5 7.5h21M7 13h5",
  account: "M14 10a3.5 3.5 0 1 0 0-7a3.5 3.5 0 1 0 0 7zM6 17.5c1-4 4-5 8-5s7 1 8 5z",
  bank: "M4 7.5L14 2l10 5.5zM6.5 8v7.5M11.5 8v7.5M16.5 8v7.5M21.5 8v7.5M4 17.5h20",
  cash: "M2.5 5h18v11h-18zM24 8v11H6.500M11.5 13.500a3 3 0 1 0 0-6a3 3 0 1 0 0 6z",
  code: "M6 2.500h6v6h-6zM16 2.500h6v6h-6zM6 12h6v6h-6zM16 12h2.500v2.500M22 12v6M16 18h2.5",
  gift: "M5 8h18v3h-18zM6.5 11h15v7h-15zM14 8v10M14 8c-1-5-7-5-6-2c.6 1.6 4 2 6 2c2 0 5.4-.4 6-2c1-3-5-3-6 2z",
  invoice: "M8 1.500h9l4 4v13H8zM17 1.500v4h4M11 9h7M11 12.500h7M11 16h4",
  parcel: "M4 6l10-4l10 4v9l-10 4l-10-4zM4 6l10 4l10-4M14 10v9M9 4l10 4",
  parts: "M14 2a8 8 0 1 0 8 8h-8zM17 1.500a8 8 0 0 1 5.5 5.500h-5.500z",
  phone: "M9.5 1.500h9v17h-9zM12.5 15.800h3M12.5 8.500l1.5 1.500l2.5-3",
  seal: "M3.5 3h21v11h-21zM6.5 7h9M6.5 10h6M20 11.500a2.2 2.2 0 1 0 .01 0M18.8 15l-.8 4l2-1.200l2 1.200l-.8-4",
};

/** The sign beside an offer's name; it says nothing that the name does not. */
export function OfferSign({ sign }: { sign: Shown["sign"] }) {
  if (!sign) return null;
  if ("picture" in sign)
    return (
      <Plate
        src={pictureAddress(sign.picture)}
        alt=""
        width={sign.picture.width}
        height={sign.picture.height}
      />
    );
  return (
    <Drawn viewBox="0 0 28 20" aria-hidden>
      <path d={drawings[sign.icon]} />
    </Drawn>
  );
}

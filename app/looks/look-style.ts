import type { Corner, Face, LookView, Tones } from "#core/looks/look";

const radius: Record<Corner, string> = { square: "0px", soft: "5px", round: "12px" };
const family: Record<Face, string> = {
  plain: "var(--text)",
  serif: '"Source Serif 4 Variable", "Noto Sans JP Variable", "Noto Sans Arabic Variable", Georgia, serif',
  device: "system-ui, sans-serif",
};

const tones = ({ paper, accent, accentSoft, onAccent }: Tones) => `
  --paper: ${paper};
  --petrol: ${accent};
  --petrol-soft: ${accentSoft};
  --on-fill: ${onAccent};
  --main: ${accent};
  --on-main: ${onAccent};
`;

/**
 * The style of a shopper's page under a look: colours in either light, corners, type. Its colours were read as such. They
 * outweigh those of the theme, in whichever order the two sheets come.
 */
export const lookStyle = (look: LookView): string => `
  --corner: ${radius[look.corner]};
  font-family: ${family[look.face]};
  && {${tones(look.tones.light)}}
  @media (prefers-color-scheme: dark) {
    :root:not([data-theme="light"]) &&:not([data-theme="light"]) {${tones(look.tones.dark)}}
  }
  :root[data-theme="dark"] &&:not([data-theme="light"]) {${tones(look.tones.dark)}}
  &&[data-theme="dark"] {${tones(look.tones.dark)}}
`;

/** In which light a page always stands; undefined where the device decides. */
export const lightOf = ({ light }: LookView): "light" | "dark" | undefined =>
  light === "device" ? undefined : light;

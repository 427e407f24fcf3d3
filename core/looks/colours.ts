import { colord, extend } from "colord";
import a11y from "colord/plugins/a11y";

extend([a11y]);

/** Contrast by WCAG 2.2, 1.4.3: text that is read. */
export const READ = 4.5;

/** A colour as it is kept, `#rrggbb` in lower case; null for what is none. `#abc` is written out. */
export function colourOf(text: string): string | null {
  const typed = text.trim().toLowerCase();
  return /^#([0-9a-f]{3}|[0-9a-f]{6})$/.test(typed) ? colord(typed).toHex() : null;
}

/** The contrast of two colours by WCAG 2.2, from 1 to 21, cut to two decimals so that it is never said to be more. */
export const contrastOf = (one: string, other: string): number => colord(one).contrast(other);

const least = (colour: string, against: readonly string[]): number =>
  Math.min(...against.map((other) => contrastOf(colour, other)));

/**
 * The colour itself where it can be read against each of the others, or the nearest of its hue that can: lighter or darker
 * by steps of one in a hundred. Null where none can, as against black and white at once.
 */
export function readableAgainst(colour: string, against: readonly string[]): string | null {
  if (least(colour, against) >= READ) return colour;
  const { h, s, l } = colord(colour).toHsl();
  for (let step = 1; step <= 100; step++) {
    const near = [l - step, l + step]
      .filter((lightness) => lightness >= 0 && lightness <= 100)
      .map((lightness) => colord({ h, s, l: lightness }).toHex())
      .find((one) => least(one, against) >= READ);
    if (near) return near;
  }
  return null;
}

/** Two colours mixed in sRGB: `share` of the first, from 0 to 1. */
export function mixed(one: string, other: string, share: number): string {
  const [a, b] = [colord(one).toRgb(), colord(other).toRgb()];
  const part = (x: number, y: number) => Math.round(x * share + y * (1 - share));
  return colord({ r: part(a.r, b.r), g: part(a.g, b.g), b: part(a.b, b.b) }).toHex();
}

import { readFileSync } from "node:fs";
import { join } from "node:path";

let folder: string | null = null;
const sheets = new Map<string, string | null>();

/** Says where the built files are; without it, sheets of styles stay files of their own. */
export function servedFrom(client: string): void {
  folder = client;
}

function sheetOf(href: string): string | null {
  const known = sheets.get(href);
  if (known !== undefined || folder === null) return known ?? null;
  let css: string | null = null;
  try {
    // Within a style element nothing may end it.
    if (/^\/assets\/[\w.-]+\.css$/.test(href))
      css = readFileSync(join(folder, href), "utf8").replaceAll("</", "<\\/");
  } catch {
    // It is asked for as a file, then.
  }
  sheets.set(href, css);
  return css;
}

/**
 * A page with its sheets of styles in its head, so that it is drawn from its first answer. The links stay where they are,
 * because the page is taken over with them, and hold nothing up: they are for print alone.
 */
export function withSheetsInside(html: string, nonce: string): { html: string; styles: string } {
  let styles = "";
  const changed = html.replace(
    /<link([^>]*) rel="stylesheet" href="([^"]+)"/g,
    (whole, before: string, href: string) => {
      const css = sheetOf(href);
      if (css === null) return whole;
      styles += `<style nonce="${nonce}">${css}</style>`;
      return `<link${before} rel="stylesheet" media="print" href="${href}"`;
    },
  );
  return { html: changed, styles };
}

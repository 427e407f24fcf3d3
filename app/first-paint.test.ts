import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, it } from "vitest";
import { servedFrom, withSheetsInside } from "./first-paint";

const folder = mkdtempSync(join(tmpdir(), "client-"));
mkdirSync(join(folder, "assets"));
writeFileSync(join(folder, "assets", "root.css"), "body{color:red}/*</style>*/");
afterAll(() => rmSync(folder, { recursive: true }));

const link = (href: string) => `<link nonce="n" rel="stylesheet" href="${href}"/>`;

it("leaves sheets where nothing was built", () => {
  const html = `<head>${link("/assets/root.css")}</head>`;
  expect(withSheetsInside(html, "n")).toEqual({ html, styles: "" });
});

it("takes a sheet into the page, which its link does not hold up any more, and no other file", () => {
  servedFrom(folder);
  const html = `<head>${link("/assets/root2.css")}${link("/assets/../secret.css")}</head>`;
  expect(withSheetsInside(html, "n")).toEqual({ html, styles: "" });
  writeFileSync(join(folder, "assets", "theme.css"), "body{color:red}/*</style>*/");
  const { html: changed, styles } = withSheetsInside(`<head>${link("/assets/theme.css")}</head>`, "abc");
  expect(changed).toContain('media="print" href="/assets/theme.css"');
  expect(styles).toBe('<style nonce="abc">body{color:red}/*<\\/style>*/</style>');
});

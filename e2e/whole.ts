import type { Page } from "@playwright/test";
import { awake, expect } from "./world";

/** What reaches out of the page, or is cut off within itself. */
const overflowing = (page: Page) =>
  page.evaluate(() =>
    [document.documentElement, ...document.querySelectorAll<HTMLElement>("body *")]
      .filter((one) => {
        const { overflowX } = getComputedStyle(one);
        // A field scrolls what is typed into it by itself.
        const cuts =
          one === document.documentElement ||
          (!["INPUT", "SELECT"].includes(one.tagName) && ["hidden", "clip"].includes(overflowX));
        const box = one.getBoundingClientRect();
        const seen = box.width > 1 && box.height > 1;
        return seen && ((cuts && one.scrollWidth > one.clientWidth + 1) || box.right > innerWidth + 1);
      })
      .map((one) => `${one.tagName} ${one.textContent?.slice(0, 60)}`),
  );

/** Makes each word on the page half as long again: words as long as those of the longest language. */
const lengthen = (page: Page) =>
  page.evaluate(() => {
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const text = node.nodeValue ?? "";
      if (!/\p{L}{2}/u.test(text) || node.parentElement?.closest("script, style")) continue;
      node.nodeValue = text.replace(
        /\p{L}{3,}/gu,
        (word) => word + word.slice(0, Math.ceil(word.length / 2)),
      );
    }
  });

/** Holds a shopper's page to stay whole on a phone: as it is, in longer words, in letters twice as large. */
export async function staysWhole(page: Page): Promise<void> {
  const whole = page.viewportSize();
  await page.setViewportSize({ width: 390, height: 844 });
  await awake(page);
  expect(await overflowing(page)).toEqual([]);
  await lengthen(page);
  expect(await overflowing(page)).toEqual([]);
  await page.reload();
  await page.evaluate(() => (document.documentElement.style.fontSize = "200%"));
  expect(await overflowing(page)).toEqual([]);
  if (whole) await page.setViewportSize(whole);
  await page.reload();
}

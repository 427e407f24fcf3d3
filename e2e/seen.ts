import type { Browser, Page } from "@playwright/test";

/** Has a page count by how much it moves as it comes (Layout Instability); see `moved`. */
export const watchMoves = (page: Page) =>
  page.addInitScript(() => {
    const kept = window as unknown as { moved: number };
    kept.moved = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & { value: number })[])
        kept.moved += entry.value;
    }).observe({ type: "layout-shift", buffered: true });
  });

/** By how much a page that is watched has moved, once nothing comes any more. */
export async function moved(page: Page): Promise<number> {
  await page.waitForTimeout(300);
  return page.evaluate(() => (window as unknown as { moved: number }).moved);
}

/**
 * How long after its page's first byte a custom element is drawn, milliseconds: the median and the 95th hundredth of twenty
 * loads, each from a cold cache.
 */
export async function shownAfter(browser: Browser, element: string, address: string) {
  const times: number[] = [];
  for (let i = 0; i < 20; i++) {
    const context = await browser.newContext();
    const page = await context.newPage();
    await page.addInitScript((name) => {
      const kept = window as unknown as { shown: Promise<number> };
      const drawn = () => new Promise((resolve) => requestAnimationFrame(resolve));
      kept.shown = customElements
        .whenDefined(name)
        .then(drawn)
        .then(() => {
          const [load] = performance.getEntriesByType("navigation") as PerformanceNavigationTiming[];
          return performance.now() - (load?.responseStart ?? 0);
        });
    }, element);
    await page.goto(address);
    times.push(await page.evaluate(() => (window as unknown as { shown: Promise<number> }).shown));
    await context.close();
  }
  times.sort((a, b) => a - b);
  return { loads: times.length, median: Math.round(times[9] ?? 0), p95: Math.round(times[18] ?? 0) };
}

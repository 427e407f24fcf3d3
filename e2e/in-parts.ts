import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import type { Page } from "@playwright/test";

/**
 * Opens a page of a shop as a slow line brings it: up to the first tag of an element, and the rest once the script of that
 * element has run. It is served from an origin of its own.
 */
export async function openInParts(page: Page, address: string, element: string): Promise<void> {
  const whole = await (await fetch(address)).text();
  const tag = new RegExp(`<${element}[^>]*>`).exec(whole);
  if (!tag) throw new Error(`${address} has no ${element}`);
  const cut = tag.index + tag[0].length;
  let goOn = () => {};
  const ready = new Promise<void>((resolve) => (goOn = resolve));
  const server = createServer((request, response) => {
    if (request.url !== "/") return void response.writeHead(204).end();
    response.writeHead(200, { "content-type": "text/html; charset=utf-8" });
    response.write(whole.slice(0, cut).replace("<head>", `<head><base href="${address}">`));
    void ready.then(() => response.end(whole.slice(cut)));
  }).listen(0);
  try {
    await new Promise((resolve) => server.once("listening", resolve));
    const { port } = server.address() as AddressInfo;
    await page.goto(`http://localhost:${port}/`, { waitUntil: "commit" });
    await page.waitForFunction(
      (name) => customElements.get(name) && document.querySelector(name)?.shadowRoot,
      element,
    );
    goOn();
    await page.waitForLoadState("load");
  } finally {
    goOn();
    server.closeAllConnections();
    server.close();
  }
}

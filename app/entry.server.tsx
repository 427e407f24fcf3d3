import { createReadableStreamFromReadable } from "@react-router/node";
import { PassThrough, Readable } from "node:stream";
import { renderToPipeableStream } from "react-dom/server";
import { type EntryContext, type RouterContextProvider, ServerRouter } from "react-router";
import { ServerStyleSheet } from "styled-components";
import { pageHostsContext, nonceContext, runtimeContext } from "./context";
import { NonceContext } from "./nonce";
import { securityHeaders } from "./security-headers";

const PATIENCE = 10_000;

/** Renders the whole page, then sends it with its styles in the head, so that it never shows unstyled. */
export default async function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  routerContext: EntryContext,
  loadContext: RouterContextProvider,
): Promise<Response> {
  const nonce = loadContext.get(nonceContext);
  const sheet = new ServerStyleSheet({ nonce });
  try {
    const page = sheet.collectStyles(
      <NonceContext value={nonce}>
        <ServerRouter context={routerContext} url={request.url} nonce={nonce} />
      </NonceContext>,
    );
    const { html, failed } = await render(page, nonce);
    const styles = sheet.getStyleTags();
    const { origin } = loadContext.get(runtimeContext).settings;
    for (const [name, value] of securityHeaders(nonce, loadContext.get(pageHostsContext), origin))
      headers.set(name, value);
    headers.set("content-type", "text/html; charset=utf-8");
    const body = html.replace("</head>", () => `${styles}</head>`);
    return new Response(createReadableStreamFromReadable(Readable.from([body])), {
      headers,
      status: failed ? 500 : status,
    });
  } finally {
    sheet.seal();
  }
}

function render(page: React.ReactElement, nonce: string): Promise<{ html: string; failed: boolean }> {
  return new Promise((resolve, reject) => {
    let failed = false;
    const { pipe, abort } = renderToPipeableStream(page, {
      nonce,
      onAllReady() {
        const parts: Buffer[] = [];
        const through = new PassThrough();
        through.on("data", (part: Buffer) => parts.push(part));
        through.on("end", () => resolve({ html: Buffer.concat(parts).toString("utf8"), failed }));
        pipe(through);
      },
      onShellError: reject,
      onError(error) {
        failed = true;
        console.error(error);
      },
    });
    setTimeout(abort, PATIENCE).unref();
  });
}

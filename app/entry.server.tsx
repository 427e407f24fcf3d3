import { Writable } from "node:stream";
import { renderToPipeableStream } from "react-dom/server";
import { type EntryContext, type RouterContextProvider, ServerRouter } from "react-router";
import { ServerStyleSheet } from "styled-components";
import { pageHostsContext, nonceContext, runtimeContext } from "./context";
import { withSheetsInside } from "./first-paint";
import { NonceContext } from "./nonce";
import { PageStyles } from "./page-styles";
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
    const page = (
      <PageStyles sheet={sheet}>
        <NonceContext value={nonce}>
          <ServerRouter context={routerContext} url={request.url} nonce={nonce} />
        </NonceContext>
      </PageStyles>
    );
    const { html: rendered, failed } = await render(page, nonce);
    const { html, styles: inside } = withSheetsInside(rendered, nonce);
    const styles = inside + sheet.getStyleTags();
    const { origin } = loadContext.get(runtimeContext).settings;
    for (const [name, value] of securityHeaders(nonce, loadContext.get(pageHostsContext), origin))
      headers.set(name, value);
    headers.set("content-type", "text/html; charset=utf-8");
    const body = html.replace("</head>", () => `${styles}</head>`);
    return new Response(body, { headers, status: failed ? 500 : status });
  } finally {
    sheet.seal();
  }
}

function render(page: React.ReactElement, nonce: string): Promise<{ html: string; failed: boolean }> {
  return new Promise((resolve, reject) => {
    let failed = false;
    const late = setTimeout(() => stream.abort(), PATIENCE).unref();
    const stream = renderToPipeableStream(page, {
      nonce,
      // The page is sent whole, so nothing is gained by keeping parts of it back.
      progressiveChunkSize: Infinity,
      onAllReady() {
        clearTimeout(late);
        stream.pipe(gather((html) => resolve({ html, failed })));
      },
      onShellError: reject,
      onError(error) {
        failed = true;
        console.error(error);
      },
    });
  });
}

/** Takes all that is written and gives it out as one text. */
function gather(give: (text: string) => void): Writable {
  const parts: Uint8Array[] = [];
  return new Writable({
    write(part: Uint8Array, _, done) {
      parts.push(part);
      done();
    },
    final(done) {
      give(Buffer.concat(parts).toString("utf8"));
      done();
    },
  });
}

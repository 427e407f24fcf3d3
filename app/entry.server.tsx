import { Writable } from "node:stream";
import { renderToPipeableStream, renderToString } from "react-dom/server";
import { type EntryContext, type RouterContextProvider, ServerRouter } from "react-router";
import { ServerStyleSheet } from "styled-components";
import { nonceContext, pageContext, pageHostsContext, runtimeContext } from "./context";
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
  const context = await withDataRead(routerContext);
  try {
    const page = (
      <PageStyles sheet={sheet}>
        <NonceContext value={nonce}>
          <ServerRouter context={context} url={request.url} nonce={nonce} />
        </NonceContext>
      </PageStyles>
    );
    const { html: rendered, failed } = atOnce(page) ?? (await render(page, nonce));
    const { html, styles: inside } = withSheetsInside(rendered, nonce);
    const styles = inside + sheet.getStyleTags();
    const { origin } = loadContext.get(runtimeContext).settings;
    for (const [name, value] of securityHeaders(nonce, loadContext.get(pageHostsContext), origin))
      headers.set(name, value);
    headers.set("content-type", "text/html; charset=utf-8");
    loadContext.set(
      pageContext,
      html.replace("</head>", () => `${styles}</head>`),
    );
    return new Response(null, { headers, status: failed ? 500 : status });
  } finally {
    sheet.seal();
  }
}

/**
 * A context whose data has been read to its end, and stands where the framework looks for what it has read already: nothing
 * of the page has to be waited for then.
 */
async function withDataRead(context: EntryContext): Promise<EntryContext> {
  const { serverHandoffStream, renderMeta } = context;
  if (!serverHandoffStream) return context;
  const results: { done: boolean; value?: Uint8Array }[] = [];
  for await (const value of serverHandoffStream as unknown as AsyncIterable<Uint8Array>)
    results.push({ done: false, value });
  results.push({ done: true });
  const text = new TextDecoder();
  const streamCache = results.map(({ done, value }) =>
    Object.assign(Promise.resolve(), { result: { done, value: text.decode(value, { stream: true }) } }),
  );
  const reader = { read: () => Promise.resolve(results.shift()) };
  return {
    ...context,
    renderMeta: { ...renderMeta, streamCache },
    serverHandoffStream: { getReader: () => reader } as unknown as ReadableStream<Uint8Array>,
  };
}

/** What React leaves where something of a page was not there at once. */
const LEFT_OUT = "<!--$!-->";

/**
 * The page in one go, which takes half of what it takes in pieces. Null where it does not come to an end so: a part of it has
 * to be waited for, or fails, which the other way tells of.
 */
function atOnce(page: React.ReactElement): { html: string; failed: boolean } | null {
  try {
    const html = renderToString(page);
    return html.includes(LEFT_OUT) ? null : { html: `<!DOCTYPE html>${html}`, failed: false };
  } catch {
    return null;
  }
}

/** The page once all of it is there. */
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

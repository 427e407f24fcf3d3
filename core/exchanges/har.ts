/** A recorded message with secrets masked. */
export interface HarMessage {
  method?: string;
  url?: string;
  status?: number;
  headers: Record<string, string>;
  body: string;
}

export interface HarExchange {
  /** Milliseconds since the epoch, and how many the answer took. */
  at: number;
  duration: number | null;
  label: string;
  outcome: string | null;
  request: HarMessage | null;
  response: HarMessage | null;
}

const bytes = (text: string) => new TextEncoder().encode(text).length;
const fields = (headers: Record<string, string>) =>
  Object.entries(headers).map(([name, value]) => ({ name, value }));

/** Recorded exchanges as an HTTP Archive, HAR 1.2. What the format wants and nobody recorded is -1 or empty, as it asks. */
export function harOf(exchanges: readonly HarExchange[], version: string) {
  return {
    log: {
      version: "1.2",
      creator: { name: "Zahlung", version },
      entries: exchanges.flatMap(({ at, duration, label, outcome, request, response }) => {
        if (!request?.url) return [];
        const time = duration ?? 0;
        const type = (headers: Record<string, string>) => headers["content-type"] ?? "";
        return [
          {
            startedDateTime: new Date(at).toISOString(),
            time,
            request: {
              method: request.method ?? "GET",
              url: request.url,
              httpVersion: "HTTP/1.1",
              cookies: [],
              headers: fields(request.headers),
              queryString: queryOf(request.url),
              ...(request.body && {
                postData: { mimeType: type(request.headers), text: request.body, params: [] },
              }),
              headersSize: -1,
              bodySize: bytes(request.body),
            },
            response: {
              status: response?.status ?? 0,
              statusText: "",
              httpVersion: response ? "HTTP/1.1" : "",
              cookies: [],
              headers: fields(response?.headers ?? {}),
              content: {
                size: bytes(response?.body ?? ""),
                mimeType: type(response?.headers ?? {}),
                text: response?.body ?? "",
              },
              redirectURL: response?.headers.location ?? "",
              headersSize: -1,
              bodySize: response ? bytes(response.body) : -1,
            },
            cache: {},
            timings: { send: 0, wait: time, receive: 0 },
            comment: outcome ? `${label}: ${outcome}` : label,
          },
        ];
      }),
    },
  };
}

function queryOf(url: string) {
  if (!URL.canParse(url)) return [];
  return [...new URL(url).searchParams].map(([name, value]) => ({ name, value }));
}

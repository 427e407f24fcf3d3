/** Header fields, names in lower case. A field that came several times is joined with commas (RFC 9110, 5.3). */
export type Headers = Readonly<Record<string, string | undefined>>;

/** A received message as a verifier needs it. `url` is the absolute address it was sent to. */
export interface SignedMessage {
  method: string;
  url: string;
  headers: Headers;
  body: Uint8Array;
}

/** Milliseconds since the epoch, and how many a message's own time may differ from it. */
export interface Clock {
  now: number;
  tolerance: number;
}

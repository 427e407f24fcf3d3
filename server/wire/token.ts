import { type Said, type Told } from "#core/said";
/** An access token with the milliseconds since the epoch until which it counts. */
export interface AccessToken {
  token: string;
  until: number;
}

/** What came of asking for an access token. */
export type Granted =
  | { ok: true; token: AccessToken }
  /** The provider said no, by a code of RFC 6749 or one of its own. */
  | { ok: false; because: "refused"; code: string; text: Told }
  | { ok: false; because: "unanswered"; says: Said };

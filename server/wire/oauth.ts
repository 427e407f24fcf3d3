import { type Said, said } from "#core/said";
import * as oauth from "oauth4webapi";
import type { Mode } from "#core/mode";
import { ProfileError } from "#core/profiles/expressions";
import { fieldOf, type Profile } from "#core/profiles/profile";
import type { Credentials } from "#core/profiles/request";
import type { Runtime } from "../runtime";
import type { Granted } from "./token";
import { type Sent, talk, wireFault } from "./wire";

interface Whose {
  profile: Profile;
  connectionId: string;
  mode: Mode;
}

/** Seconds before its end in which a token counts as over, so that none ends on its way. */
const EARLY = 30;
const DEFAULT_LIFE = 60;

export const newVerifier = oauth.generateRandomCodeVerifier;
/** The S256 challenge of a verifier (RFC 7636, section 4.2). */
export const challengeOf = oauth.calculatePKCECodeChallenge;

function serverOf({ profile, mode }: Whose): oauth.AuthorizationServer {
  const { token, authorize, api } = profile.modes[mode];
  if (!token)
    throw new ProfileError(
      "operation-missing",
      said("oauth.gives-no-access-tokens", { provider: profile.name }),
    );
  return {
    issuer: new URL(token ?? api).origin,
    token_endpoint: token,
    ...(authorize && { authorization_endpoint: authorize }),
  };
}

/** Tells a grant's request apart from what went wrong on the way, which the library cannot know. */
class NotAnswered extends Error {
  constructor(readonly says: Said) {
    super(says.code);
  }
}

/** The library's requests go over the one wire: guarded, timed and recorded, with the token masked. */
const options = (
  rt: Runtime,
  { connectionId, mode, profile }: Whose,
  label: Said,
  operation: string,
  secrets: string[],
) => ({
  [oauth.allowInsecureRequests]: rt.settings.allowPrivateAddresses,
  [oauth.customFetch]: async (url: string, init: oauth.CustomFetchOptions<"POST", URLSearchParams>) => {
    const body = init.body.toString();
    const sent = await talk(rt, { method: "POST", url, headers: init.headers, body }, (answered) => {
      const token = tokenIn(answered);
      return {
        label,
        to: "provider",
        operation,
        mode,
        connectionId,
        secrets: token ? [...secrets, token] : secrets,
        ok: token !== null,
      };
    });
    if (!sent.ok) throw new NotAnswered(wireFault(sent, profile.name));
    return new Response(sent.body, { status: sent.status, headers: sent.headers });
  },
});

function tokenIn(sent: Sent): string | null {
  if (!sent.ok || sent.status >= 300) return null;
  try {
    const { access_token } = JSON.parse(sent.body) as { access_token?: unknown };
    return typeof access_token === "string" && access_token !== "" ? access_token : null;
  } catch {
    return null;
  }
}

async function granted(rt: Runtime, ask: () => Promise<oauth.TokenEndpointResponse>): Promise<Granted> {
  const at = rt.now();
  try {
    const { access_token: token, expires_in } = await ask();
    if (!/^[\x21-\x7e]{1,4000}$/.test(token))
      return { ok: false, because: "refused", code: "malformed", text: said("oauth.gave-no-usable-access") };
    const seconds = expires_in && expires_in > 0 ? expires_in : DEFAULT_LIFE;
    return { ok: true, token: { token, until: at + Math.max(seconds - EARLY, 1) * 1000 } };
  } catch (error) {
    if (error instanceof NotAnswered) return { ok: false, because: "unanswered", says: error.says };
    if (error instanceof oauth.ResponseBodyError)
      return {
        ok: false,
        because: "refused",
        code: error.error,
        text: error.error_description ?? said("oauth.gave-no-access-token"),
      };
    if (
      error instanceof oauth.WWWAuthenticateChallengeError ||
      error instanceof oauth.OperationProcessingError
    ) {
      const status =
        (error as { cause?: { status?: unknown } }).cause?.status ?? (error as { status?: unknown }).status;
      const code = typeof status === "number" ? `HTTP ${status}` : "malformed";
      return { ok: false, because: "refused", code, text: said("oauth.gave-no-access-token") };
    }
    throw error;
  }
}

/** An access token by client credentials (RFC 6749, section 4.4). Throws a `ProfileError`. */
export async function clientToken(rt: Runtime, whose: Whose, credentials: Credentials): Promise<Granted> {
  const { authentication: way, name } = whose.profile;
  if (way.scheme !== "oauth2-client-credentials")
    throw new ProfileError("operation-missing", said("oauth.gives-no-access-tokens", { provider: name }));
  const server = serverOf(whose);
  const value = (field: string) => {
    const found = Object.hasOwn(credentials, field) ? credentials[field] : undefined;
    if (found === undefined) throw new ProfileError("field-missing", said("oauth.missing", { field }));
    return found;
  };
  const client = { client_id: value(way.client) };
  const secret = value(way.secret);
  const secrets = Object.entries(credentials).flatMap(([id, one]) =>
    fieldOf(whose.profile, id)?.secret ? [one] : [],
  );
  return granted(rt, async () => {
    const response = await oauth.clientCredentialsGrantRequest(
      server,
      client,
      oauth.ClientSecretBasic(secret),
      way.scope ? { scope: way.scope } : {},
      options(rt, whose, said("oauth.fetch-access-token"), "token", secrets),
    );
    return oauth.processClientCredentialsResponse(server, client, response);
  });
}

/** An access token for the code that came back from a link (RFC 6749, section 4.1.3, with PKCE). */
export async function codeToken(
  rt: Runtime,
  whose: Whose,
  {
    back,
    state,
    redirect,
    verifier,
  }: { back: URLSearchParams; state: string; redirect: string; verifier: string },
): Promise<Granted> {
  const server = serverOf(whose);
  const client = { client_id: whose.profile.link?.client ?? "" };
  return granted(rt, async () => {
    const response = await oauth.authorizationCodeGrantRequest(
      server,
      client,
      oauth.None(),
      oauth.validateAuthResponse(server, client, back, state),
      redirect,
      verifier,
      options(rt, whose, said("oauth.change-code-token"), "link", [back.get("code") ?? "", verifier]),
    );
    return oauth.processAuthorizationCodeResponse(server, client, response);
  });
}

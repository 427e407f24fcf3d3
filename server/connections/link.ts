import { type Said, said, type Told } from "#core/said";
import { and, desc, eq, isNull } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { changeSettings } from "../audit/audit";
import { links } from "../database/schema";
import { guard, guardFailed } from "../database/guard";
import { call, type Line, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { challengeOf, codeToken, newVerifier } from "../wire/oauth";
import { type ConnectionWithProfile, connectionOf } from "./connections";
import { enterKeys } from "./keys";

export type Link = typeof links.$inferSelect;

/** How long somebody may take to agree over there. */
const AGREE_WITHIN = 15 * 60_000;

export const linkReturnAddress = (rt: Runtime) => `${rt.settings.origin}/link/back`;

/**
 * Begins a link by authorisation code with PKCE (RFC 6749, 4.1; RFC 7636, S256): the address of the provider's page
 * on which the account's owner agrees. Null where the profile has no linking.
 */
export async function startLink(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  storefrontId: string,
  mode: Mode,
): Promise<string | null> {
  const { authorize } = profile.modes[mode];
  if (!profile.link || !authorize) return null;
  const state = rt.ids.secret();
  const verifier = newVerifier();
  const id = rt.ids.next("link");
  await changeSettings(rt, { person, action: "link started", subject: connection.id, detail: { mode } }, [
    rt.db.orm.insert(links).values({
      id,
      state,
      connectionId: connection.id,
      storefrontId,
      mode,
      person,
      verifier: rt.seal.close(verifier, `link:${id}`),
      startedAt: rt.now(),
    }),
  ]);
  const address = new URL(authorize);
  const asks = {
    response_type: "code",
    client_id: profile.link.client,
    redirect_uri: linkReturnAddress(rt),
    scope: profile.link.scope,
    state,
    code_challenge: await challengeOf(verifier),
    code_challenge_method: "S256",
  };
  for (const [name, value] of Object.entries(asks)) address.searchParams.set(name, value);
  return address.href;
}

export type Linked =
  | { ok: true; link: Link }
  /** `link` is null when the state belongs to nothing we began. */
  | { ok: false; link: Link | null; says: Told };

const refusals: Record<string, Said> = {
  access_denied: said("link.link-refused-over-nothing"),
  temporarily_unavailable: said("link.provider-could-not-decide"),
  server_error: said("link.something-broke-provider-link"),
};

/** Ends a link: what came back is held against what was begun, the code is changed for keys, and the keys are proven. */
export async function finishLink(rt: Runtime, person: string, back: URLSearchParams): Promise<Linked> {
  const state = back.get("state") ?? "";
  const [link] = await rt.db.orm.select().from(links).where(eq(links.state, state));
  if (!link || link.person !== person)
    return {
      ok: false,
      link: null,
      says: said("link.answer-belongs-no-link"),
    };
  const where = await connectionOf(rt, link.connectionId);
  // Taken first, so that the same answer cannot be used twice.
  const taken = await takeLink(rt, link);
  if (!where || !taken || !link.verifier)
    return { ok: false, link, says: said("link.link-ended-already-begin") };
  const end = async (outcome: "linked" | "denied" | "failed", says: Told | null): Promise<Linked> => {
    await changeSettings(
      rt,
      { person, action: `link ${outcome}`, subject: link.connectionId, detail: { mode: link.mode } },
      [rt.db.orm.update(links).set({ outcome, says }).where(eq(links.id, link.id))],
    );
    return says === null ? { ok: true, link } : { ok: false, link, says };
  };
  const { name, link: terms } = where.profile;
  const error = back.get("error");
  if (error) {
    const own = terms && Object.hasOwn(terms.denied, error) ? terms.denied[error] : undefined;
    const known = Object.hasOwn(refusals, error) ? refusals[error] : undefined;
    return end(
      "denied",
      own ?? known ?? said("link.did-not-link-account", { provider: name, error: error.slice(0, 60) }),
    );
  }
  if (rt.now() - link.startedAt > AGREE_WITHIN) return end("failed", said("link.too-much-time-passed"));
  const line: Line = {
    profile: where.profile,
    versionId: where.versions.test.id,
    connectionId: where.connection.id,
    mode: link.mode,
    keySetId: link.id,
    credentials: {},
  };
  const granted = await codeToken(rt, line, {
    back,
    state,
    redirect: linkReturnAddress(rt),
    verifier: rt.seal.open(link.verifier, `link:${link.id}`),
  });
  if (!granted.ok)
    return end(
      "failed",
      granted.because === "unanswered"
        ? granted.says
        : said("link.did-not-take-code", { provider: name, text: granted.text, code: granted.code }),
    );
  const keys = await call(rt, line, "linkedKeys", {}, { token: granted.token.token });
  if (keys.kind !== "answered") return end("failed", saysWhat(name, keys));
  const entered = await enterKeys(rt, person, where, link.mode, keys.value);
  const refused = Object.values(entered).find((check) => !check.ok);
  return end(refused ? "failed" : "linked", refused && !refused.ok ? refused.says : null);
}

/** Takes a link that has not been ended; false for one that has. */
async function takeLink(rt: Runtime, { id }: Link): Promise<boolean> {
  const open = and(eq(links.id, id), isNull(links.endedAt));
  try {
    await rt.db.write([
      guard(links, open),
      rt.db.orm.update(links).set({ endedAt: rt.now(), verifier: null }).where(eq(links.id, id)),
    ]);
    return true;
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return false;
  }
}

/** The newest link of a connection and mode; one that was begun and never ended is abandoned after its time. */
export async function latestLink(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
): Promise<{
  at: number;
  state: "under-way" | "abandoned" | "linked" | "denied" | "failed";
  says: Told | null;
} | null> {
  const [link] = await rt.db.orm
    .select()
    .from(links)
    .where(and(eq(links.connectionId, connectionId), eq(links.mode, mode)))
    .orderBy(desc(links.startedAt))
    .limit(1);
  if (!link) return null;
  if (link.outcome) return { at: link.endedAt ?? link.startedAt, state: link.outcome, says: link.says };
  const over = link.endedAt !== null || rt.now() - link.startedAt > AGREE_WITHIN;
  return over
    ? {
        at: link.startedAt,
        state: "abandoned",
        says: said("link.begun-nobody-came-back"),
      }
    : { at: link.startedAt, state: "under-way", says: null };
}

import { eq } from "drizzle-orm";
import type { IncomingMessage, ServerResponse } from "node:http";
import { maskHeaders } from "#core/masking";
import { VerificationError } from "#core/webhooks/errors";
import type { SignedMessage } from "#core/webhooks/message";
import { type VerifyingKeys, verifyMessage } from "#core/webhooks/verify";
import type { Mode } from "#core/mode";
import type { Profile, ProfileWebhooks } from "#core/profiles/profile";
import type { Statement } from "../database/open";
import { rowsBy } from "../database/prepared";
import { connections, endpoints, rimFaults, type webhooks } from "../database/schema";
import { statement } from "../database/statement";
import { sideVersion } from "../connections/connections";
import { verifyingSecrets } from "../connections/verifying";
import { keySetOf } from "../gateway/tokens";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";

type NewWebhook = typeof webhooks.$inferInsert;

interface Listener {
  endpointId: string;
  connectionId: string;
  mode: Mode;
  profile: Profile;
  webhooks: ProfileWebhooks;
  secrets: string[];
  until: number;
}

const LONGEST_BODY = 1_000_000;
const KEPT_OF_REFUSED = 10_000;
const REMEMBERED = 5_000;

/** The webhook intake: read the raw body, verify, store durably, answer. The work comes after. */
const faultsOn = rowsBy(rimFaults, ["connectionId"]);

export class Intake {
  readonly #listeners = new Map<string, Listener>();
  readonly #waiting: { row: NewWebhook; done: (error?: unknown) => void }[] = [];
  #flushing = false;

  constructor(readonly rt: Runtime) {}

  /** Serves one request whose address begins with /hooks/. Never throws. */
  async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    try {
      const path = (request.url ?? "").slice("/hooks/".length).split("?")[0] ?? "";
      if (request.method !== "POST")
        return answer(response, 405, "Only POST is taken here.", { allow: "POST" });
      const listener = await this.#listener(path);
      if (!listener) return answer(response, 404, "Nobody listens at this address.");
      const body = await readBody(request, LONGEST_BODY);
      if (body === null) return answer(response, 413, `At most ${LONGEST_BODY} bytes are taken.`);
      const { status, says } = await this.#take(listener, request, body);
      answer(response, status, says);
    } catch (error) {
      this.rt.log.error({ err: error }, "intake failed");
      if (!response.headersSent) answer(response, 503, "Please try again later.", { "retry-after": "5" });
    }
  }

  async #take(
    listener: Listener,
    request: IncomingMessage,
    body: Buffer,
  ): Promise<{ status: number; says: string }> {
    const receivedAt = this.rt.now();
    const row = {
      endpointId: listener.endpointId,
      connectionId: listener.connectionId,
      mode: listener.mode,
      receivedAt,
      headers: keptHeaders(request),
    };
    try {
      const { id } = await this.#verified(listener, request, body, receivedAt);
      const message = {
        ...row,
        messageId: id.slice(0, 200),
        body: body.toString("utf8"),
        verdict: "verified" as const,
      };
      const rows =
        listener.mode === "test"
          ? await this.#atTheRim(message)
          : [{ ...message, outcome: "waiting" as const }];
      await Promise.all(rows.map((one) => this.#store(one)));
      this.rt.nudge();
      return { status: 204, says: "" };
    } catch (error) {
      if (!(error instanceof VerificationError)) throw error;
      const kept = body.subarray(0, KEPT_OF_REFUSED).toString("utf8");
      await this.#store({ ...row, body: kept, verdict: error.code, outcome: "refused" });
      return { status: 401, says: error.message };
    }
  }

  async #verified(
    { profile, mode, webhooks, secrets }: Listener,
    request: IncomingMessage,
    body: Buffer,
    now: number,
  ) {
    const message: SignedMessage = {
      method: request.method ?? "POST",
      url: this.rt.settings.origin + (request.url ?? ""),
      headers: request.headers as Record<string, string>,
      body,
    };
    const check = (keys: VerifyingKeys) =>
      verifyMessage(webhooks.signing, webhooks.format, message, keys, now);
    if (webhooks.signing.scheme !== "detached-jws") return check({ secrets });
    const set = await keySetOf(this.rt, profile, mode);
    try {
      return await check({ secrets, ...(set && { set }) });
    } catch (error) {
      if (!(error instanceof VerificationError) || error.code !== "key-unknown") throw error;
      const newer = await keySetOf(this.rt, profile, mode, true);
      if (!newer || newer === set) throw error;
      return check({ secrets, set: newer });
    }
  }

  /** A rehearsal's faults on the way in: messages about one reference are lost, doubled or held back. */
  async #atTheRim(message: Omit<NewWebhook, "outcome">): Promise<NewWebhook[]> {
    const faults = await faultsOn(this.rt.db).all({ connectionId: message.connectionId });
    const fault = faults.find((one) => one.until > this.rt.now() && message.body.includes(one.reference));
    switch (fault?.kind) {
      case "lose-webhook":
        return [{ ...message, outcome: "lost" }];
      case "double-webhook":
        return [
          { ...message, outcome: "waiting" },
          { ...message, outcome: "waiting" },
        ];
      case "reorder-webhooks":
      case "delay-webhooks":
        return [{ ...message, outcome: "held" }];
      default:
        return [{ ...message, outcome: "waiting" }];
    }
  }

  async #listener(path: string): Promise<Listener | null> {
    const known = this.#listeners.get(path);
    if (known && known.until > this.rt.now()) return known;
    if (!/^[\w-]{43}$/.test(path)) return null;
    const [row] = await this.rt.db.orm
      .select({ endpoint: endpoints, connection: connections })
      .from(endpoints)
      .innerJoin(connections, eq(connections.id, endpoints.connectionId))
      .where(eq(endpoints.path, path));
    if (!row) return null;
    const { profile } = await this.rt.library.version(sideVersion(row.connection, row.endpoint.mode));
    const { webhooks } = profile;
    if (!webhooks) return null;
    const listener = {
      endpointId: row.endpoint.id,
      connectionId: row.endpoint.connectionId,
      mode: row.endpoint.mode,
      profile,
      webhooks,
      secrets: await verifyingSecrets(this.rt, row.endpoint, webhooks.signing),
      until: this.rt.now() + REMEMBERED,
    };
    this.#listeners.set(path, listener);
    return listener;
  }

  /** Stores rows in batches: what arrives while one batch is written goes into the next. */
  #store(row: NewWebhook): Promise<void> {
    return new Promise((resolve, reject) => {
      this.#waiting.push({ row, done: (error) => (error ? reject(error) : resolve()) });
      if (!this.#flushing) {
        this.#flushing = true;
        setImmediate(() => void this.#flush());
      }
    });
  }

  async #flush(): Promise<void> {
    while (this.#waiting.length > 0) {
      const batch = this.#waiting.splice(0, 500);
      try {
        await this.rt.db.write(
          storing(
            this.rt,
            batch.map((one) => one.row),
          ),
        );
        for (const one of batch) one.done();
      } catch (error) {
        for (const one of batch) one.done(error);
      }
      // Let the sockets be read, so that the next batch is full.
      await new Promise((resolve) => setImmediate(resolve));
    }
    this.#flushing = false;
  }
}

const COLUMNS = "endpoint_id, connection_id, mode, message_id, received_at, headers, body, verdict, outcome";

/**
 * One statement for all rows, written by hand: building it through the query builder costs more than storing it. With it
 * the job that applies them, one for each address.
 */
function storing(rt: Runtime, rows: readonly NewWebhook[]): Statement[] {
  const places = rows.map(() => "(?,?,?,?,?,?,?,?,?)").join(",");
  const args = rows.flatMap((row) => [
    row.endpointId,
    row.connectionId,
    row.mode,
    row.messageId ?? null,
    row.receivedAt,
    JSON.stringify(row.headers),
    row.body,
    row.verdict,
    row.outcome,
  ]);
  const waiting = new Set(rows.filter((row) => row.outcome === "waiting").map((row) => row.endpointId));
  return [
    statement(`insert into webhooks (${COLUMNS}) values ${places}`, args),
    ...[...waiting].map((id) => askFor(rt, { kind: "apply-webhooks", key: id, lane: id })),
  ];
}

const KEPT_HEADERS = ["webhook-id", "webhook-timestamp", "content-type", "user-agent"];

function keptHeaders(request: IncomingMessage): Record<string, string> {
  const kept = KEPT_HEADERS.map((name) => [name, request.headers[name]] as const).filter(
    (pair): pair is readonly [string, string] => typeof pair[1] === "string",
  );
  return maskHeaders(kept, []);
}

/** The whole body, or null when it is longer than `most`; the rest is then read and thrown away. */
function readBody(request: IncomingMessage, most: number): Promise<Buffer | null> {
  return new Promise((resolve, reject) => {
    const parts: Buffer[] = [];
    let length = 0;
    request.on("data", (part: Buffer) => {
      length += part.length;
      if (length <= most) parts.push(part);
      else parts.length = 0;
    });
    request.on("end", () =>
      resolve(length > most ? null : parts.length === 1 && parts[0] ? parts[0] : Buffer.concat(parts)),
    );
    request.on("error", reject);
    request.on("aborted", () => reject(new Error("the sender went away")));
  });
}

function answer(
  response: ServerResponse,
  status: number,
  says: string,
  headers: Record<string, string> = {},
) {
  response.writeHead(status, { ...headers, ...(says && { "content-type": "text/plain; charset=utf-8" }) });
  response.end(says);
}

import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { noticeOf as noticeOfSaid, setNotice as setNoticeSaid, tellFindings } from "#server/notices/notices";
import { until } from "../../demo/play";
import { freePort } from "../../scripts/setup.mjs";
import { speaking } from "../../scripts/english";
import { MailBox } from "../../standins/mail/mail";
import { openWorld, type SystemWorld } from "./world";

// Whoever is named is told of what was found: by a letter, by a signed message, and not more than there is to say.

const setNotice = speaking(setNoticeSaid);
const noticeOf = speaking(noticeOfSaid);

let world: SystemWorld;
const mail = new MailBox();
let listener: Server;
let taken = true;
const heard: { id: string; body: string; headers: Record<string, string> }[] = [];
beforeAll(async () => {
  world = await openWorld({ worker: false, connect: false, server: false });
  const port = await freePort();
  await mail.open(port);
  world.settings.smtpUrl = `smtp://localhost:${port}`;
  listener = createServer((request, response) => {
    let body = "";
    request.on("data", (part: Buffer) => (body += part.toString("utf8")));
    request.on("end", () => {
      const headers = request.headers as Record<string, string>;
      heard.push({ id: headers["webhook-id"] ?? "", body, headers });
      response.writeHead(taken ? 204 : 500).end();
    });
  });
  await new Promise<void>((resolve) => listener.listen(0, resolve));
});
afterAll(async () => {
  mail.close();
  listener.close();
  await world.end();
});

const rt = () => world.rt;
let made = 0;
/** Something found about a live payment, as the books would have it. */
async function found(kind: string) {
  const n = (made += 1);
  await rt().db.client.execute("pragma foreign_keys = off");
  await rt().db.client.execute({
    sql: `insert into findings (id, storefront_id, mode, kind, subject, payment_id, order_reference, detail, "values", state, opened_at)
          values (?, 'luvwinkel-de', 'live', ?, ?, ?, ?, '', ?, 'open', ?)`,
    args: [
      `fnd_${n}`,
      kind,
      `pay_${n}`,
      `pay_${n}`,
      `LW-${n}`,
      JSON.stringify({ sum: { amount: 4390, currency: "EUR" }, reason: "none" }),
      rt().now() + n,
    ],
  });
}
const later = (minutes: number) => (world.clock.offset += minutes * 60_000);

describe("findings", () => {
  it("are told to nobody until somebody is named, and to no odd address", async () => {
    await found("dispute");
    await tellFindings(rt());
    expect(mail.letters).toEqual([]);
    const set = (email: string, address = "") => setNotice(rt(), "ida", "luvwinkel-de", { email, address });
    expect(await set("nobody")).toMatchObject({
      ok: false,
      field: "email",
      says: "This is no e-mail address.",
    });
    for (const email of ["a@b", "a b@c.de", "a@b.de\r\nBcc: c@d.de", "<a@b.de>"])
      expect((await set(email)).ok, email).toBe(false);
    expect(await set("", "ftp://x.example/")).toMatchObject({ ok: false, field: "address" });
  });

  it("come in one letter, of what was found since, and not again", async () => {
    const { port } = listener.address() as AddressInfo;
    const set = await setNotice(rt(), "ida", "luvwinkel-de", {
      email: "kontor@luvwinkel.example",
      address: `http://localhost:${port}/`,
    });
    expect(set).toMatchObject({ ok: true, secret: expect.stringMatching(/^whsec_/) as string });
    later(1);
    await found("dispute");
    await found("surplus");
    await tellFindings(rt());
    await until("the letter", () => mail.letters.length === 1);
    const [letter] = mail.letters;
    expect(letter).toMatchObject({ to: "kontor@luvwinkel.example", subject: "2 findings at Luvwinkel DE" });
    expect(letter?.text).toContain("LW-2 is disputed");
    expect(letter?.text).toContain(`${world.origin}/s/luvwinkel-de/operate/pay_3`);
    expect(letter?.text).not.toContain("LW-1 ");
    expect(heard).toHaveLength(1);
    const secret = set.ok ? (set.secret ?? "") : "";
    const { data } = new Webhook(secret).verify(heard[0]?.body ?? "", heard[0]?.headers ?? {}) as {
      data: { findings: { kind: string; order: string }[] };
    };
    expect(data.findings.map((one) => [one.kind, one.order])).toEqual([
      ["dispute", "LW-2"],
      ["surplus", "LW-3"],
    ]);
    await tellFindings(rt());
    later(20);
    await tellFindings(rt());
    expect([mail.letters.length, heard.length]).toEqual([1, 1]);
  });

  it("that follow soon wait, so that they come together", async () => {
    await found("late");
    await tellFindings(rt());
    await until("the letter", () => mail.letters.length === 2);
    later(2);
    await found("late");
    await found("late");
    await tellFindings(rt());
    expect(mail.letters).toHaveLength(2);
    later(15);
    await tellFindings(rt());
    await until("the letter", () => mail.letters.length === 3);
    expect(mail.letters[0]?.subject).toBe("2 findings at Luvwinkel DE");
  });

  it("that nobody took are told once somebody does, and say meanwhile why not", async () => {
    later(20);
    taken = false;
    await setNotice(rt(), "ida", "luvwinkel-de", {
      email: "",
      address: `http://localhost:${(listener.address() as AddressInfo).port}/`,
    });
    await found("dispute");
    await tellFindings(rt());
    expect((await noticeOf(rt(), "luvwinkel-de"))?.outcome).toBe("The last letter was not taken: HTTP 500");
    taken = true;
    const before = heard.length;
    await tellFindings(rt());
    expect(heard).toHaveLength(before + 1);
    expect(heard.at(-1)?.id, "the same message again").toBe(heard.at(-2)?.id);
    expect((await noticeOf(rt(), "luvwinkel-de"))?.outcome).toBeNull();
  });
});

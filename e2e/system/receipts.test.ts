import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { usualLook } from "#core/looks/look";
import { viewOf } from "#server/checkouts/view";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { looksOf, putLookLive, saveLook, setLogo, takeLookBack } from "#server/looks/looks";
import { pictureOf } from "#server/looks/pictures";
import { addOffline } from "#server/offers/offline";
import { jobs } from "#server/database/schema";
import { saveOffer } from "#server/offers/offers";
import {
  receiptsOf,
  remind,
  sendReceipt,
  sendReceiptAgain,
  writeReceiptNow,
} from "#server/receipts/receipts";
import { paymentOf, recordFacts } from "#server/payments/record";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { giveBack, receive } from "#server/ways/offline/money";
import { until } from "../../demo/play";
import { freePort } from "../../scripts/setup.mjs";
import { say } from "../../scripts/english";
import { MailBox } from "../../standins/mail/mail";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";
import { writeReceipt } from "../../app/receipts/letter.server";

// How a shop's pages look to its shoppers, and the letters that its shoppers get.

const DE = "luvwinkel-de";
const mail = new MailBox();
let world: SystemWorld;
let transfer = "";
const rt = () => world.rt;
const entry = {
  corner: "soft",
  face: "serif",
  light: "device",
  terms: "none",
  email: "hilfe@luvwinkel.example",
};
const save = async (change: Record<string, string>) =>
  saveLook(rt(), "ida", (await mustStand(rt(), DE)).storefront, { ...entry, ...change });
const letters = (to: string) => mail.letters.filter((one) => one.to === to).reverse();
let orders = 0;
async function paid(email: string, change: object = {}) {
  const checkout = await openKite(rt(), { reference: `RC-${(orders += 1)}`, email, ...change });
  const placed = await pay(rt(), checkout, transfer, "");
  if (placed.kind !== "payment") throw new Error(placed.kind);
  const { id } = placed.payment;
  return { id, checkout, now: async () => must(await paymentOf(rt(), id)) };
}
const came = async (one: Awaited<ReturnType<typeof paid>>, amount: number) =>
  receive(rt(), "ida", await one.now(), { amount, on: rt().now(), note: "", once: `${one.id}-${amount}` });

beforeAll(async () => {
  world = await openWorld({ beside: false });
  const port = await freePort();
  await mail.open(port);
  world.settings.smtpUrl = `smtp://localhost:${port}`;
  rt().writeReceipt = writeReceipt;
  const added = await addOffline(rt(), "ida", DE, "bank-transfer");
  if (!added.ok) throw new Error("not added");
  transfer = added.id;
  const { storefront, ...now } = await mustStand(rt(), DE);
  const { working } = must(anyOfferIn({ ...now, storefront }, transfer));
  const account = { holder: "Luvwinkel", iban: "DE49999000000000204101", bic: "", bank: "" };
  const offline = { ...must(working.document.offline), account, reminders: [3, 10] };
  const afterwards = {
    de: { paid: "Guten Wind! {order}, {total}, {shop}.", cancelled: "Bis zum nächsten Wind." },
  };
  await saveOffer(
    rt(),
    "ida",
    storefront,
    must(anyOfferIn({ ...now, storefront }, transfer)),
    { ...working.document, offline, afterwards },
    working.number,
  );
});
afterAll(async () => {
  mail.close();
  await world.end();
});

describe("the look of a storefront", () => {
  it("is ours until one is saved; test shows it at once, live when it is put live", async () => {
    expect(await looksOf(rt(), DE)).toEqual({ working: usualLook, live: null, revision: 0 });
    const refused = await save({ accent: "#ffd400" });
    expect(refused.ok ? [] : refused.problems.map((one) => `${one.path}: ${say(one)}`)).toEqual([
      expect.stringMatching(/^accent: Hard to read: 1\.\d+ to 1, and 4\.5 to 1 is needed\. The nearest/),
    ]);
    expect(await save({ accent: "#7a1fa2" })).toMatchObject({ ok: true });
    const checkout = await openKite(rt(), { reference: "LOOK-1" });
    const test = await viewOf(rt(), checkout, null);
    expect(test.look).toMatchObject({ corner: "soft", tones: { light: { accent: "#7a1fa2" } } });
    const live = await viewOf(rt(), { ...checkout, mode: "live" }, null);
    expect(live.look).toMatchObject({ corner: "square", support: null });
    await putLookLive(rt(), "ida", DE);
    expect((await viewOf(rt(), { ...checkout, mode: "live" }, null)).look.corner).toBe("soft");
    await save({ corner: "round" });
    await takeLookBack(rt(), "ida", DE);
    expect((await looksOf(rt(), DE)).working.corner).toBe("soft");
  });

  it("takes a picture as what it shows, and nothing of what else a file holds", async () => {
    const file = (text: string | Uint8Array, name: string) => new File([text as BlobPart], name);
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="50"><script>alert(1)</script>
      <image href="file:///etc/passwd" width="9" height="9"/><rect width="200" height="50" fill="#7a1fa2"/></svg>`;
    const kept = await setLogo(rt(), "ida", DE, file(svg, "logo.svg"));
    expect(kept).toMatchObject({ ok: true, picture: { width: 480, height: 120 } });
    const { logo } = (await looksOf(rt(), DE)).working;
    const bytes = must(await pictureOf(rt(), must(logo).id));
    expect(bytes.subarray(1, 4).toString()).toBe("PNG");
    expect(bytes.toString("latin1")).not.toMatch(/script|alert|passwd/);
    expect(await pictureOf(rt(), "../../etc/passwd")).toBeNull();
    const bomb = `<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;&b;&b;">
      <!ENTITY d "&c;&c;&c;&c;&c;&c;&c;&c;&c;&c;"><!ENTITY e "&d;&d;&d;&d;&d;&d;&d;&d;&d;&d;"><!ENTITY f "&e;&e;&e;&e;&e;&e;&e;&e;&e;&e;">
      <!ENTITY g "&f;&f;&f;&f;&f;&f;&f;&f;&f;&f;">]><svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>&g;</text></svg>`;
    for (const [name, odd] of [
      ["none.png", "no picture at all"],
      ["empty.png", ""],
      ["page.html", "<html><script>alert(1)</script></html>"],
      ["half.png", new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0])],
      ["bomb.svg", bomb],
      ["vast.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="9000000" height="9000000"></svg>`],
      ["paper.pdf", "%PDF-1.7 and so on"],
    ] as const)
      expect(await setLogo(rt(), "ida", DE, file(odd, name)), name).toMatchObject({ ok: false });
    const large = await setLogo(rt(), "ida", DE, file("x".repeat(1_000_001), "large.png"));
    expect(large.ok ? "" : say(large.says as Parameters<typeof say>[0])).toContain("1 MB");
    expect((await looksOf(rt(), DE)).working.logo).toEqual(logo);
  });
});

describe("receipts", () => {
  it("are sent to nobody while nobody wants them, but when a person presses", async () => {
    const order = await paid("ida@example.org");
    await came(order, 4390);
    expect(await receiptsOf(rt(), order.id)).toEqual([]);
    expect((await viewOf(rt(), must(await checkoutOf(rt(), order.checkout.id)), null)).own).toMatch(
      /^Guten Wind! RC-1, 43,90.€, Luvwinkel DE\.$/,
    );
    expect(await writeReceiptNow(rt(), await order.now())).toEqual({ ok: true });
    await until("the letter", async () => (await receiptsOf(rt(), order.id))[0]?.sentAt != null);
    expect(letters("ida@example.org").map((one) => one.subject)).toEqual([
      expect.stringContaining("Test: Beleg (Luvwinkel"),
    ]);
    expect(letters("ida@example.org")[0]?.text).toContain("Guten Wind! RC-1");
    const silent = await paid("");
    const over = { ...silent.checkout, state: "cancelled" as const };
    expect((await viewOf(rt(), over, null)).own).toBe("Bis zum nächsten Wind.");
    expect(await writeReceiptNow(rt(), await silent.now())).toMatchObject({ ok: false });
  });

  it("say how to pay, that it was paid, and what went back, each once, in the shopper's language", async () => {
    expect(await save({ receipts: "yes", accent: "#7a1fa2" })).toMatchObject({ ok: true });
    const order = await paid("ada@example.org", { language: "en", country: "GB" });
    const subjects = () => letters("ada@example.org").map((one) => one.subject);
    await until("the first letter", () => subjects().length === 1);
    const [placed] = letters("ada@example.org");
    expect(placed?.subject).toMatch(/^Test: Your order is placed \(Luvwinkel.*, Order RC-\d+\)$/);
    expect(placed?.from).toMatch(/^"?Luvwinkel/);
    expect(placed?.text).toContain("IBAN: DE49 9990 0000 0000 2041 01");
    expect(placed?.text).toContain("Still to be paid: €43.90");
    expect(placed?.text).toContain("hilfe@luvwinkel.example");
    await came(order, 4390);
    await until("the second", () => subjects().length === 2);
    expect(letters("ada@example.org")[1]?.text).toMatch(/Paid with: .*\nAmount: €43\.90/);
    const paidLine = async () => (await receiptsOf(rt(), order.id)).find((one) => one.kind === "paid");
    // A letter is in the box before it is written down that it was sent.
    await until("it is written down", async () => (await paidLine())?.sentAt != null);
    // The same told once more changes nothing.
    await recordFacts(rt(), order.id, []);
    await sendReceipt(rt(), `${order.id}.paid`);
    expect(subjects()).toHaveLength(2);
    await sendReceiptAgain(rt(), "ida", order.id, `${order.id}.paid`);
    await until("it again", () => subjects().length === 3);
    await until("that it was sent twice", async () => (await paidLine())?.sent === 2);
    expect(await paidLine()).toMatchObject({ sent: 2, person: "ida", trouble: null });
    expect(subjects()[2]).toBe(subjects()[1]);
    const back = { amount: 1_000, on: rt().now(), note: "", once: "back" };
    expect(await giveBack(rt(), "ida", await order.now(), back)).toMatchObject({ ok: true });
    await until("what went back", () => subjects().length === 4);
    expect(subjects()[3]).toContain("Money is on its way back to you");
    expect(letters("ada@example.org")[3]?.text).toContain("Given back: €10.00");
  });

  it("remind once of what is still to be paid, and of nothing that was paid meanwhile", async () => {
    const [late, soon] = [await paid("late@example.net"), await paid("soon@example.net")];
    await came(soon, 4390);
    await until("the letters", () => letters("soon@example.net").length === 2);
    await until("that they are written down", async () =>
      (await receiptsOf(rt(), soon.id)).every((one) => one.sentAt !== null),
    );
    const dueAt = must((await late.now()).dueAt);
    world.clock.offset += dueAt + 3 * 86_400_000 + 1_000 - rt().now();
    await until("the reminder", () => letters("late@example.net").length === 2);
    const [, reminder] = letters("late@example.net");
    expect(reminder?.subject).toContain("Eine Zahlung steht noch aus");
    expect(reminder?.text).toContain("IBAN: DE49 9990 0000 0000 2041 01");
    const DAY = 86_400_000;
    expect(await remind(rt(), soon.id)).toBeNull();
    expect(await remind(rt(), late.id)).toBe(dueAt + 10 * DAY);
    // What is written once is not written again.
    const kinds = async () => (await receiptsOf(rt(), late.id)).map((one) => one.kind);
    expect(await kinds()).toEqual(["placed", "reminder"]);
    // The next day of the plan brings another, and after the last there is none; the work in the background wakes by itself.
    await until("the next is waited for", async () =>
      (await rt().db.orm.select().from(jobs)).some(
        ({ kind, key, runAt }) =>
          kind === "remind" && key === late.id && Math.abs((runAt ?? 0) - dueAt - 10 * DAY) < DAY,
      ),
    );
    world.clock.offset += 7 * DAY;
    expect(await remind(rt(), late.id)).toBeNull();
    expect(await kinds()).toEqual(["placed", "reminder", "reminder"]);
    // What would no longer be true is not sent, and says so.
    await sendReceiptAgain(rt(), "ida", soon.id, `${soon.id}.placed`);
    const placed = async () => (await receiptsOf(rt(), soon.id)).find((one) => one.kind === "placed");
    await until("the reason", async () => (await placed())?.trouble != null);
    expect(say((await placed())?.trouble as Parameters<typeof say>[0])).toContain("no longer be true");
    expect(letters("soon@example.net")).toHaveLength(2);
  });

  it("wait where no mail is taken, say why, and go once it is", async () => {
    const { smtpUrl } = world.settings;
    world.settings.smtpUrl = `smtp://localhost:${await freePort()}`;
    const order = await paid("late@example.org");
    const trouble = async () => (await receiptsOf(rt(), order.id))[0]?.trouble;
    await until("the trouble", async () => (await trouble()) != null);
    expect(say((await trouble()) as Parameters<typeof say>[0])).toMatch(/^The mail server did not take it: /);
    expect(letters("late@example.org")).toEqual([]);
    world.settings.smtpUrl = smtpUrl;
    await sendReceiptAgain(rt(), "ida", order.id, `${order.id}.placed`);
    await until("the letter", () => letters("late@example.org").length === 1);
    // The letter is in the box before it is written down that it is.
    await until("the end of the trouble", async () => (await trouble()) === null);
    expect(must(await checkoutOf(rt(), order.checkout.id)).state).toBe("open");
  });
});

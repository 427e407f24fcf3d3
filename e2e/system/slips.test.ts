import { PDFDocument, PDFName, PDFString } from "pdf-lib";
import sharp from "sharp";
import { deflateSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { SlipAsk } from "#core/ways/offline/slip";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import { addOffline } from "#server/offers/offline";
import { saveOffer } from "#server/offers/offers";
import { paymentOf } from "#server/payments/record";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { cleanPdf } from "#server/ways/offline/pdf";
import { judgeSlip, slipFile, slipsOf, slipsWaiting, takeSlip } from "#server/ways/offline/slips";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// What shoppers send in to show that they paid: kept without what else a file holds, and judged by a person.

const DE = "luvwinkel-de";
let world: SystemWorld;
const rt = () => world.rt;

async function offering(ask: SlipAsk, phone = ""): Promise<string> {
  const made = await addOffline(rt(), "ida", DE, "own");
  if (!made.ok) throw new Error("not added");
  const { storefront, ...stands } = await mustStand(rt(), DE);
  const one = must(anyOfferIn({ storefront, ...stands }, made.id));
  const { document, number } = one.working;
  const offline = { ...document.offline, slip: ask, ...(phone && { phone }) };
  const wording = Object.fromEntries(
    storefront.languages.map((language) => [language, { label: "Haffgroschen", hint: "" }]),
  );
  const saved = await saveOffer(rt(), "ida", storefront, one, { ...document, wording, offline }, number);
  expect(saved).toMatchObject({ ok: true });
  return made.id;
}
async function placed(reference: string, offerId: string) {
  const checkout = await openKite(rt(), { reference });
  const paid = await pay(rt(), checkout, offerId, "");
  if (paid.kind !== "payment") throw new Error(paid.kind);
  const { id } = paid.payment;
  return {
    id,
    now: async () => must(await paymentOf(rt(), id)),
    checkout: async () => must(await checkoutOf(rt(), checkout.id)),
    send: async (given: FormDataEntryValue | null) =>
      takeSlip(rt(), must(await checkoutOf(rt(), checkout.id)), given),
    scene: async () => (await viewOf(rt(), must(await checkoutOf(rt(), checkout.id)), null)).scene,
  };
}
const file = (bytes: Uint8Array | string, name = "receipt") => new File([bytes as BlobPart], name);

/** A PDF that says who made it, runs a script as it opens, and has a link. */
async function tellingPdf(): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setAuthor("Hinnerk Somebody");
  pdf.setTitle("Secret title");
  const page = pdf.addPage([200, 200]);
  page.drawText("paid");
  const script = { S: "JavaScript", JS: PDFString.of("app.alert(1)") };
  pdf.catalog.set(PDFName.of("OpenAction"), pdf.context.obj(script));
  const link = {
    Type: "Annot",
    Subtype: "Link",
    Rect: [0, 0, 9, 9],
    A: { S: "URI", URI: PDFString.of("https://x.example") },
  };
  page.node.set(PDFName.of("Annots"), pdf.context.obj([pdf.context.obj(link)]));
  return pdf.save({ useObjectStreams: false });
}
const photo = () =>
  sharp({ create: { width: 30, height: 20, channels: 3, background: "#888888" } })
    .withExif({ IFD0: { Artist: "Hinnerk Somebody" } })
    .jpeg()
    .toBuffer();

beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

describe("a text that is asked for", () => {
  it("is refused, asked for again, and accepted as the money", async () => {
    const offerId = await offering({ asks: "text", says: { de: "Gutscheinnummer" } }, "+49 4321 555012");
    const one = await placed("SLIP-TEXT", offerId);
    expect(await one.scene()).toMatchObject({
      ...{ name: "placed", phone: "+49 4321 555012" },
      slip: { asks: "text", says: "Gutscheinnummer", state: null, open: true },
    });
    expect(await one.send("  ")).toEqual({ ok: false, because: "unreadable" });
    expect(await one.send("x".repeat(201))).toEqual({ ok: false, because: "unreadable" });
    expect(await one.send(file("a"))).toEqual({ ok: false, because: "unreadable" });
    expect(await one.send("<b>HG-1</b>")).toEqual({ ok: true });
    expect(await slipsWaiting(rt(), [one.id, "pay_none"])).toEqual(new Set([one.id]));
    const [first] = await slipsOf(rt(), one.id);
    expect(first).toMatchObject({ kind: "text", words: "<b>HG-1</b>", state: "open" });
    expect(await judgeSlip(rt(), "ida", await one.now(), must(first).id, false)).toMatchObject({ ok: true });
    expect(await one.scene()).toMatchObject({ slip: { state: "refused", open: true } });
    expect(await one.now()).toMatchObject({ state: "pending", captured: 0 });
    expect(await one.send("HG-2")).toEqual({ ok: true });
    const second = must((await slipsOf(rt(), one.id))[1]);
    const twice = await Promise.all(
      ["ida", "jonte"].map(async (who) => judgeSlip(rt(), who, await one.now(), second.id, true)),
    );
    expect(twice.map(({ ok }) => ok).sort()).toEqual([false, true]);
    expect(await one.now()).toMatchObject({ state: "captured", captured: 4_390 });
    expect((await one.checkout()).state).toBe("paid");
    expect(await one.send("HG-3")).toEqual({ ok: false, because: "closed" });
  });

  it("is taken five times at most", async () => {
    const one = await placed("SLIP-MANY", await offering({ asks: "text", says: {} }));
    for (let i = 0; i < 5; i++) expect(await one.send(`HG-${i}`)).toEqual({ ok: true });
    expect(await one.send("HG-6")).toEqual({ ok: false, because: "too-many" });
    expect(await one.scene()).toMatchObject({ slip: { open: false } });
  });
});

describe("a file that is asked for", () => {
  it("is kept as a picture without its notes, or as a PDF without what else it holds", async () => {
    const one = await placed("SLIP-FILE", await offering({ asks: "file", says: {} }));
    expect(await one.send(file(await photo(), "../../photo.jpg"))).toEqual({ ok: true });
    expect(await one.send(file(await tellingPdf(), "a.pdf"))).toEqual({ ok: true });
    const [picture, pdf] = await slipsOf(rt(), one.id);
    const drawn = must(await slipFile(rt(), one.id, must(picture).id));
    expect(drawn).toMatchObject({ type: "image/jpeg", name: `${must(picture).id}.jpg` });
    const { exif, format, width } = await sharp(drawn.bytes).metadata();
    expect([exif, format, width]).toEqual([undefined, "jpeg", 30]);
    const kept = must(await slipFile(rt(), one.id, must(pdf).id));
    expect(kept.type).toBe("application/pdf");
    const read = await PDFDocument.load(kept.bytes, { updateMetadata: false });
    expect([read.getAuthor(), read.getTitle(), read.getPageCount()]).toEqual([undefined, undefined, 1]);
    // Of another payment there is no such file.
    expect(await slipFile(rt(), "pay_other", must(pdf).id)).toBeNull();
  });

  it.each<[string, () => Promise<File> | File]>([
    ["none", () => file("")],
    ["a text that says it is a picture", () => file("just words", "photo.png")],
    [
      "a drawing with a script",
      () => file("<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>"),
    ],
    ["half a picture", async () => file((await photo()).subarray(0, 200))],
    ["a beginning of a PDF", () => file("%PDF-1.7\n%half of one")],
    ["a PDF that swells", () => file(bomb())],
  ])("is not taken where it is %s", async (_, make) => {
    const one = await placed(
      `SLIP-${rt().ids.next("x").slice(-9)}`,
      await offering({ asks: "file", says: {} }),
    );
    expect(await one.send(await make())).toEqual({ ok: false, because: "unreadable" });
    expect(await slipsOf(rt(), one.id)).toEqual([]);
  });

  it("is not taken above 4 MB", async () => {
    const one = await placed("SLIP-BIG", await offering({ asks: "file", says: {} }));
    expect(await one.send(file(new Uint8Array(4_000_001)))).toEqual({ ok: false, because: "too-large" });
  });
});

/** A small PDF whose one stream unpacks to 64 MB. */
function bomb(): Buffer {
  const packed = deflateSync(Buffer.alloc(64_000_000));
  return Buffer.concat([
    Buffer.from(
      `%PDF-1.7\n1 0 obj\n<< /Type /ObjStm /N 1 /First 4 /Filter /FlateDecode /Length ${packed.length} >>\nstream\n`,
    ),
    packed,
    Buffer.from("\nendstream\nendobj\ntrailer << /Root 1 0 R >>\n%%EOF"),
  ]);
}

it("makes a PDF anew without scripts, links and names, in whatever way they are written", async () => {
  const clean = must(await cleanPdf(Buffer.from(await tellingPdf())));
  const read = await PDFDocument.load(clean, { updateMetadata: false });
  const all = read.context
    .enumerateIndirectObjects()
    .map(([, object]) => object.toString())
    .join("\n");
  expect(all).not.toMatch(/JavaScript|app\.alert|URI|x\.example|Somebody|Secret|OpenAction|Annots/);
  const named = Buffer.from((await tellingPdf()).slice())
    .toString("latin1")
    .replace("/Type", "/#4cZWDecode /Type");
  expect(await cleanPdf(Buffer.from(named, "latin1"))).toBeNull();
});

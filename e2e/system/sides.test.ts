import { speaking, spoken } from "../../scripts/english";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { pay } from "#server/checkouts/pay";
import { agreeToAccount as agreeToAccountSaid } from "#server/connections/account-change";
import { keySideOf } from "#server/connections/key-sides";
import { enterKeys } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import { versionsOfSides } from "#server/connections/handshake";
import { interlockingFrom, wouldChange } from "#server/cutover/interlocking";
import { standingOf } from "#server/cutover/standing";
import { payments } from "#server/database/schema";
import { openLine } from "#server/gateway/gateway";
import { applyNow, listWebhooks } from "#server/intake/list";
import { failingJobs as failingJobsSaid } from "#server/jobs/list";
import { addOffer as addOfferSaid } from "#server/offers/offers";
import { act as actSaid } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { installDocument as installDocumentSaid } from "#server/profiles/install";
import { takeUpVersion as takeUpVersionSaid } from "#server/profiles/take-up";
import { currentVersion } from "#server/profiles/profiles";
import { boardOf as boardOfSaid } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { mustStand } from "#server/storefronts/now";
import { offerNow, until } from "../../demo/play";
import { AtProviders, must } from "./at-providers";
import { openKite } from "./world";

const agreeToAccount = speaking(agreeToAccountSaid);
const failingJobs = speaking(failingJobsSaid);
const addOffer = speaking(addOfferSaid);
const act = speaking(actSaid);
const installDocument = speaking(installDocumentSaid);
const takeUpVersion = speaking(takeUpVersionSaid);
const boardOf = speaking(boardOfSaid);

// What test and live each run of a connection: the profile version that is pinned, and the account that is agreed to.

let at: AtProviders;
beforeAll(async () => {
  at = await AtProviders.open();
});
afterAll(() => at.world.end());

const rt = () => at.world.rt;

/** Has a connection stand as after a cutover. */
async function goLive(id: string, account: string | null = null) {
  for (const [sql, ...args] of [
    ["update offers set live_id = working_id where connection_id = ?", id],
    ["update connections set live_version_id = test_version_id, live_account = ? where id = ?", account, id],
    [
      "update connection_storefronts set live = 'live', version_id = (select test_version_id from connections where id = ?) where connection_id = ?",
      id,
      id,
    ],
  ] as const)
    await rt().db.client.execute({ sql, args: [...args] });
}

describe("a version of a profile", () => {
  const where = () => at.where(at.world.connectionId);
  const paid = async () => {
    const result = await pay(rt(), await openKite(rt()), at.world.offerId, "play-approved");
    if (result.kind !== "payment") throw new Error(result.kind);
    await until("captured", async () => (await paymentOf(rt(), result.payment.id))?.state === "captured");
    return must(await paymentOf(rt(), result.payment.id));
  };
  const refund = async (id: string) =>
    act(rt(), "ida", must(await paymentOf(rt(), id)), { kind: "refund", amount: 100, once: `r ${id}` });
  let before: Awaited<ReturnType<typeof paid>>;
  let newer = "";

  it("that is installed changes nothing for whoever pins another, and is told with what differs", async () => {
    before = await paid();
    await goLive(at.world.connectionId);
    await startRehearsal(rt(), "ida", await offerNow(rt(), at.world.offerId), ["approved"]);
    await until("the proof", async () => {
      const { cells, running } = await boardOf(rt(), await offerNow(rt(), at.world.offerId));
      return (
        running === null && cells.some((one) => one.caseId === "approved" && one.proof?.state === "passed")
      );
    });
    const pinned = (await where()).versions.test;
    const next = structuredClone(pinned.profile) as unknown as {
      version: string;
      operations: { refund: { request: { path: string } } };
    };
    next.version = "9.0.0";
    // A mistake that is easily made, and seen only when somebody refunds.
    next.operations.refund.request.path = "/nothing/{ref}/here";
    expect(await installDocument(rt(), "ida", JSON.stringify(next, null, 2))).toMatchObject({ ok: true });
    newer = must(await currentVersion(rt(), "karvello")).id;
    expect((await where()).versions.test.id).toBe(pinned.id);
    expect(spoken(await versionsOfSides(rt(), await where())).newer).toMatchObject({
      version: "9.0.0",
      differs: expect.arrayContaining([expect.stringMatching(/refund/)]) as string[],
    });
    expect((await refund(before.id)).ok).toBe(true);
  });

  it("is taken up by test as a working change: what was proven is stale, and live goes on", async () => {
    expect(await takeUpVersion(rt(), "ida", await where(), newer)).toMatchObject({ ok: true });
    const { versions } = await where();
    expect([versions.test.version, versions.live.version === "9.0.0"]).toEqual(["9.0.0", false]);
    const { cells } = await boardOf(rt(), await offerNow(rt(), at.world.offerId));
    expect(cells.find((one) => one.caseId === "approved")?.proof?.changed).toEqual(["profile"]);
    expect(
      must(await openLine(rt(), { connectionId: at.world.connectionId, mode: "live" })).profile.version,
    ).not.toBe("9.0.0");
  });

  it("is pinned by each payment for every later call about it", async () => {
    const after = await paid();
    const pins = await rt()
      .db.orm.select({ id: payments.id, versionId: payments.profileVersionId })
      .from(payments);
    expect(pins.find((one) => one.id === after.id)?.versionId).toBe(newer);
    expect(pins.find((one) => one.id === before.id)?.versionId).not.toBe(newer);
    expect((await refund(after.id)).ok, "the mistake shows where the version runs").toBe(false);
    expect(
      (
        await act(rt(), "ida", must(await paymentOf(rt(), before.id)), {
          kind: "refund",
          amount: 200,
          once: "again",
        })
      ).ok,
      "and not where an earlier one is pinned",
    ).toBe(true);
  });

  it("waits for a cutover where the connection is live, which says what it would take along", async () => {
    const standing = await standingOf(rt(), await mustStand(rt(), "luvwinkel-de"), at.world.connectionId);
    const locked = interlockingFrom(standing);
    expect(locked.version).toMatchObject({ to: "9.0.0", differs: expect.any(Array) as string[] });
    expect(wouldChange(standing, locked)).toBe(true);
    expect(locked.revisionIds).toContain(newer);
  });
});

describe("a version whose messages cannot be read", () => {
  /** Installs the version that test runs with something changed, and has test take it up. */
  const takeUp = async (version: string, payment: string) => {
    const where = () => at.where(at.world.connectionId);
    const next = structuredClone((await where()).versions.test.profile);
    const { webhooks } = next;
    if (!webhooks) throw new Error("it sends no messages");
    Object.assign(next, { version, webhooks: { ...webhooks, payment } });
    expect(await installDocument(rt(), "ida", JSON.stringify(next, null, 2))).toMatchObject({ ok: true });
    const { id } = must(await currentVersion(rt(), "karvello"));
    expect(await takeUpVersion(rt(), "ida", await where(), id)).toMatchObject({ ok: true });
  };
  const kept = async (paymentRef: string) => {
    const { rows } = await listWebhooks(rt(), "luvwinkel-de", "test", null);
    return rows.filter((row) => row.body.includes(`"your_ref":"${paymentRef}"`));
  };

  it("keeps them, tries them by itself, and applies them by a press once it was mended", async () => {
    const { profile } = (await at.where(at.world.connectionId)).versions.test;
    const right = must(profile.webhooks).payment;
    await takeUp("9.1.0", "$number(about.no)");
    const result = await pay(rt(), await openKite(rt()), at.world.offerId, "play-approved");
    if (result.kind !== "payment") throw new Error(result.kind);
    const { id, reference } = result.payment;
    await until("its messages", async () => {
      const messages = await kept(reference);
      return messages.length >= 2 && messages.every((row) => row.outcome === "failing");
    });
    const tried = async () => (await failingJobs(rt())).filter((job) => job.kind === "apply-webhook");
    await until("they are tried again by themselves", async () => (await tried()).length >= 2);
    await takeUp("9.1.1", right);
    for (const { number } of await kept(reference))
      expect(await applyNow(rt(), "luvwinkel-de", number)).toBe(true);
    await until("they are applied", async () =>
      (await kept(reference)).every((row) => row.outcome === "applied" && row.paymentId === id),
    );
    await until("nothing is left to try", async () => (await tried()).length === 0);
    expect((await paymentOf(rt(), id))?.state).toBe("captured");
  });
});

describe("live keys of another account", () => {
  it("wait beside the old one, are refused while they cannot serve what is live, and take effect when agreed to", async () => {
    const { id, desk } = await at.connected("quippa", "live");
    const first = must((await at.column(id, "live")).account).account;
    const added = await addOffer(rt(), "ida", await at.where(id), await at.storefront(), "scan");
    expect(added.ok).toBe(true);
    await goLive(id, first);
    const paying = async () => must((await keySideOf(rt(), await at.where(id), "live")).paying).keySet.id;
    const before = await paying();

    const account = "MC60167";
    await desk.press("live", "review", { account, to: "looking" });
    await at.connected("quippa", "live", account);
    const second = (await at.connected("quippa", "live", account)).id;
    const { keys } = await at.connected("quippa", "live", account);
    expect(second).not.toBe(id);
    await enterKeys(rt(), "ida", await at.where(id), "live", keys);
    const change = must((await at.column(id, "live")).accountChange);
    expect([change.old?.account, change.new.account]).toEqual([first, account]);
    expect(change.cannot.join(" ")).toMatch(/may not charge/);
    expect(await paying(), "payments go on with the account of before").toBe(before);
    expect(await agreeToAccount(rt(), "ida", await at.where(id), account)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/cannot serve what is live/) as string,
    });

    await desk.press("live", "review", { account, to: "open" });
    await proveKeys(rt(), await at.where(id), "live");
    expect(must((await at.column(id, "live")).accountChange).cannot).toEqual([]);
    expect(await paying(), "nobody has agreed yet").toBe(before);
    expect(
      await agreeToAccount(rt(), "ida", await at.where(id), "MC1"),
      "another than was shown",
    ).toMatchObject({
      ok: false,
    });
    expect(await agreeToAccount(rt(), "ida", await at.where(id), account)).toEqual({ ok: true });
    expect((await at.column(id, "live")).accountChange).toBeNull();
    expect(await paying()).not.toBe(before);
  });
});

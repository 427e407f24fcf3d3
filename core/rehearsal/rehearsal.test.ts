import { speaking } from "../../scripts/english";
import { money } from "../money/money";
import { describe, expect, it } from "vitest";
import type { DeclineReason, Statement } from "../payments/facts";
import { scoreOf } from "../score";
import { type CaseId, caseIds, caseOf, rehearsalCases } from "./cases";
import { expectedState, judge, nothingObserved, type Observed } from "./judge";
import {
  instrumentFor,
  playableCases,
  type Playing,
  requiredCases as requiredCasesSaid,
  type Uses,
} from "./required";
import { type Walk, walkedCase } from "./walked";

const requiredCases = speaking(requiredCasesSaid);

const uses: Uses = {
  confirm: true,
  capture: "at-once",
  authentication: ["issuer"],
  void: true,
  refund: true,
  partialRefund: true,
  partialCapture: true,
  webhooks: true,
  currencies: 2,
  ...{ notices: true, button: true, keeps: true, repeats: true },
  playable: new Set(caseIds),
};
const notRequired = (change: Partial<Uses>) =>
  requiredCases({ ...uses, ...change })
    .filter((one) => !one.required)
    .map((one) => one.id);

const must = (id: string) => {
  const found = caseOf(id);
  if (!found) throw new Error(id);
  return found;
};
const totals = (currency: string) => ({
  authorised: money(1, currency),
  captured: money(1, currency),
  refunded: money(0, currency),
});
const seen: Observed = {
  ...nothingObserved,
  ...{ state: "captured", webhooks: 2, charges: 1 },
  ours: totals("EUR"),
  theirs: totals("EUR"),
};

describe("which cases are required", () => {
  it("follows from what the offer uses", () => {
    expect(rehearsalCases.map((one) => one.id)).toEqual([...caseIds]);
    const later = notRequired({});
    const held = ["captured-later", "void", "part-captured", "authorisation-ended"];
    expect(later).toEqual([...held, "capture-lost", "capture-broken", "void-lost", "void-broken"]);
    expect(notRequired({ capture: "later" })).toEqual([]);
    expect(notRequired({ capture: "later", confirm: false })).toEqual(["confirm-lost", "confirm-broken"]);
    expect(notRequired({ capture: "later", void: false })).toEqual(["void", "void-lost", "void-broken"]);
    expect(notRequired({ capture: "later", partialCapture: false })).toEqual(["part-captured"]);
    expect(notRequired({ capture: "later", authentication: [] })).toEqual([
      "challenge-passed",
      "challenge-failed",
    ]);
    expect(notRequired({ capture: "later", currencies: 1 })).toEqual(["each-currency"]);
    expect(notRequired({ capture: "later", keeps: false })).toEqual(["kept-and-used"]);
    const repeating = caseIds.filter((id) => id.startsWith("repeat-"));
    expect(notRequired({ capture: "later", repeats: false })).toEqual(repeating);
    expect(notRequired({ capture: "later", notices: false })).toEqual(["notice-agrees"]);
    expect(notRequired({ capture: "later", button: false })).toEqual(["button-agrees", "shop-answers"]);
    const refunds = ["refund", "refund-waits", "refund-fails", "refund-lost", "refund-broken"];
    expect(notRequired({ capture: "later", refund: false })).toEqual(refunds);
    expect(notRequired({ capture: "later", partialRefund: false })).toEqual(["part-refund", "refund-twice"]);
    expect(notRequired({ capture: "later", webhooks: false })).toEqual(
      caseIds.filter((id) => id.startsWith("webhook") || id.startsWith("confirm")),
    );
  });

  it("says what about the offer decides it", () => {
    const why = (id: CaseId, change: Partial<Uses> = {}) =>
      requiredCases({ ...uses, ...change }).find((one) => one.id === id)?.because;
    expect(why("void")).toBe("The offer captures at once.");
    expect(why("void", { capture: "later" })).toBe("Payments can be voided.");
    expect(why("void", { capture: "later", void: false })).toBe("The method cannot void.");
    expect(why("approved")).toBeNull();
  });
});

describe("judge", () => {
  it("expects what the capture policy leads to", () => {
    expect(expectedState(must("approved"), "at-once")).toBe("captured");
    expect(expectedState(must("approved"), "later")).toBe("authorised");
    expect(expectedState(must("refund"), "later")).toBe("refunded");
    expect(expectedState(must("void"), "at-once")).toBe("voided");
  });

  it("passes only when every verdict holds", () => {
    const holds = (id: string, change: Partial<Observed> = {}) =>
      judge(must(id), "at-once", { ...seen, ...change }).every((one) => one.ok);
    expect(holds("approved")).toBe(true);
    expect(holds("approved", { state: "pending" })).toBe(false);
    expect(holds("approved", { webhooks: 0 })).toBe(false);
    expect(holds("answer-lost", { charges: 2 })).toBe(false);
    expect(holds("approved", { theirs: totals("GBP") })).toBe(false);
    expect(holds("webhook-doubled")).toBe(false);
    expect(holds("webhook-doubled", { repeated: 2 })).toBe(true);
    expect(holds("webhooks-reordered", { overtaken: 1 })).toBe(true);
    expect(holds("webhook-forged")).toBe(false);
    expect(holds("webhook-forged", { refused: 1 })).toBe(true);
    expect(holds("webhook-lost", { withheld: 2 })).toBe(true);
    expect(holds("webhook-lost")).toBe(false);
  });
});

describe("a purchase walked by a person", () => {
  const asked: Statement = { object: "report", status: "pending", challenge: "https://x" };
  const instrument = (id: string, number?: string) => ({
    case: id,
    label: id,
    outcome: id,
    type: number ? [{ label: "Number", value: number }] : [],
  });
  const frame: Walk["profile"] = {
    browser: { kind: "frame", address: { test: "", live: "" }, message: { match: {}, token: "" } },
    instruments: [
      instrument("approved", "9901 0000 0000 0019"),
      instrument("insufficient-funds", "9901 0000 0000 0027"),
      instrument("expired-card", "9901 0000 0000 0035"),
      instrument("challenge", "9901 0000 0000 0076"),
      instrument("processing-error", "9901 0000 0000 0084"),
    ],
  };
  const page: Walk["profile"] = { browser: { kind: "redirect" }, instruments: frame.instruments };
  const wallet: Walk["profile"] = {
    browser: { kind: "redirect" },
    instruments: [instrument("approved"), instrument("insufficient-funds")],
  };
  const of = (last: string | null, profile: Walk["profile"], ...statements: Statement[]) =>
    walkedCase({
      statements,
      capture: "at-once",
      instrument: last && `Norda …${last}`,
      profile,
    })?.id ?? null;
  const declined = (reason: DeclineReason): Statement => ({ object: "report", status: "declined", reason });
  const captured: Statement = { object: "report", status: "captured", captured: 1 };

  it("counts for the case whose instrument, steps and end it shows", () => {
    expect(of("0019", frame, captured)).toBe("approved");
    expect(of("0076", frame, asked, captured)).toBe("challenge-passed");
    expect(of("0076", frame, asked, declined("authentication-failed"))).toBe("challenge-failed");
    expect(of("0035", frame, declined("expired-card"))).toBe("expired-card");
    expect(of("0084", frame, { object: "report", status: "failed" })).toBe("processing-error");
    expect(of("0019", frame, captured, { object: "report", status: "refunded", refunded: 1 })).toBe("refund");
    const later = (...statements: Statement[]) =>
      walkedCase({ statements, capture: "later", instrument: "Norda …0019", profile: frame })?.id ?? null;
    expect(later(captured)).toBe("captured-later");
    expect(later({ object: "report", status: "authorised", authorised: 1 })).toBe("approved");
  });

  it("counts for nothing that it does not show", () => {
    // Another card than the case's, however it ended.
    expect(of("0091", frame, captured)).toBeNull();
    expect(of("0019", frame, declined("expired-card"))).toBeNull();
    expect(of("0019", frame, { object: "report", status: "failed" })).toBeNull();
    expect(of("0019", frame, declined("do-not-honour"))).toBeNull();
    // Under way.
    expect(of("0076", frame, asked)).toBeNull();
    expect(of("0019", frame, { object: "report", status: "authorised", authorised: 1 })).toBeNull();
  });

  it("on a provider's own page is no challenge by the issuer, since every shopper is asked there", () => {
    expect(of("0019", page, asked, captured)).toBe("approved");
    expect(of("0027", page, asked, declined("insufficient-funds"))).toBe("insufficient-funds");
    expect(of("0019", page, asked, declined("authentication-failed"))).toBeNull();
  });

  it("where nothing with digits is typed is told by its end", () => {
    expect(of(null, wallet, asked, captured)).toBe("approved");
    expect(of(null, wallet, asked, declined("insufficient-funds"))).toBe("insufficient-funds");
    expect(of(null, wallet, asked, declined("unspecified"))).toBeNull();
  });
});

describe("the score", () => {
  it("orders messages by time and marks silences", () => {
    const message = (id: string, at: number, duration: number | null) =>
      ({ id, at, duration, from: "zahlung", to: "provider", label: id, answer: null, ok: true }) as const;
    const rows = scoreOf([
      message("late", 9_000, null),
      message("first", 1_000, 500),
      message("second", 1_600, null),
    ]);
    expect(rows.map((row) => [row.id, row.sinceStart, row.pause])).toEqual([
      ["first", 0, null],
      ["second", 600, null],
      ["late", 8_000, 7_400],
    ]);
    expect(scoreOf([])).toEqual([]);
  });
});

describe("cases that a provider's sandbox can play", () => {
  const instrument = (name: string, answer?: string) => ({
    case: name,
    label: name,
    outcome: "",
    type: [],
    ...(answer && { answer }),
  });

  it("are those it has a test instrument for; where nobody is asked apart, any shopper who goes on plays the challenge", () => {
    const browser = { kind: "code" } as const;
    const card: Playing = {
      ...{
        operations: {},
        methods: [],
        browser,
        instruments: [instrument("approved"), instrument("challenge", "pass")],
      },
    };
    const wallet: Playing = {
      ...{ operations: {}, methods: [], browser },
      instruments: [instrument("approved", "agree"), instrument("insufficient-funds", "empty")],
    };
    expect(instrumentFor(card, must("challenge-passed"))?.case).toBe("challenge");
    expect(instrumentFor(wallet, must("challenge-passed"))?.case).toBe("approved");
    expect(
      instrumentFor({ ...card, instruments: [instrument("approved")] }, must("challenge-passed")),
    ).toBeUndefined();
    // A device asks before there is a payment: nothing of it waits for an answer.
    const ask = { request: { method: "POST" as const, path: "/" }, response: "$" };
    const device: Playing = { ...wallet, ridesOn: "card", operations: { requestToken: ask } };
    expect(instrumentFor(device, must("challenge-passed"))).toBeUndefined();
    expect(instrumentFor(device, must("approved"))?.answer).toBe("agree");
    const plays = (profile: Playing, ...ids: CaseId[]) => ids.map((id) => playableCases(profile).has(id));
    expect(plays(wallet, "insufficient-funds", "expired-card")).toEqual([true, false]);
    // What nobody plays over there cannot be shown.
    expect(plays(card, "dispute-won", "payment-ended", "turned-back")).toEqual([false, false, false]);
    const sandbox = { "dispute-opens": "ask", "dispute-won": "won", "shopper-leaves": "leave" };
    expect(plays({ ...card, plays: sandbox }, "dispute-won", "dispute-lost", "turned-back")).toEqual([
      ...[true, false, true],
    ]);
    // A shopper tries again only where the provider's page lets them.
    const page: Playing = { ...wallet, browser: { kind: "redirect" } };
    expect(plays(page, "second-attempt")).toEqual([false]);
    expect(plays({ ...page, browser: { kind: "redirect", retries: true } }, "second-attempt")).toEqual([
      true,
    ]);
    // No message comes before the answer where the shopper acts after it; a device's token holds for one amount.
    expect(plays(card, "webhook-early", "other-amount")).toEqual([true, true]);
    expect(plays(wallet, "webhook-early", "other-amount")).toEqual([false, true]);
    expect(plays(device, "webhook-early", "other-amount")).toEqual([true, false]);
  });

  it("are not required when they cannot be played, and say why", () => {
    const [found] = requiredCases({ ...uses, playable: new Set() }).filter((one) => one.id === "approved");
    expect(found).toEqual({
      id: "approved",
      required: false,
      because: "This provider’s sandbox has no such outcome.",
    });
  });
});

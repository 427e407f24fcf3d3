import type { ButtonSettings } from "#core/buttons/button";
import { isCountry } from "#core/places/codes";
import { decimalText, parseTyped } from "#core/money/money";
import type { Afterwards } from "#core/offers/afterwards";
import { MOST_DAYS } from "#core/offers/holding";
import type { Charge } from "#core/offers/charge";
import type { KeepScope } from "#core/instruments";
import type { NoticePlace } from "#core/offers/notices";
import type { OfferDocument, OrderNumberAffixes, Sign } from "#core/offers/offer";
import { type ToldPart, toldParts, type Telling } from "#core/profiles/telling";
import { type Problem, problem } from "#core/said";
import { draftOfRepeats, readRepeats, type RepeatsDraft } from "./repeats/repeats-draft";

/** An offer's document as a person edits it: amounts and lists are text until they are saved. */
export interface Draft extends Omit<
  OfferDocument,
  | "countries"
  | "limits"
  | "exemptUpTo"
  | "captureAfterDays"
  | "holdBack"
  | "afterwards"
  | "charge"
  | "orderNumber"
  | "sign"
  | "telling"
  | "limitsOf"
  | "notices"
  | "keeps"
  | "button"
  | "repeats"
> {
  /** Left out, or on none of the shop's pages: there is no button. */
  button: ButtonSettings | undefined;
  repeats: RepeatsDraft;
  /** Empty: on none of them. */
  notices: NoticePlace[];
  keeps: KeepScope | "none";
  telling: Partial<Record<ToldPart, boolean | undefined>> & {
    brand: string;
    notes: { name: string; value: string }[];
  };
  limitsOf: "goods" | undefined;
  charge: { kind: Charge["kind"] | "none"; share: string; sums: Record<string, string> };
  orderNumber: OrderNumberAffixes;
  sign: Sign | undefined;
  countries: string;
  afterwards: Afterwards;
  captureAfterDays: string;
  holdBack: { from: Record<string, string>; countries: string };
  exemptUpTo: Record<string, string>;
  limits: Record<string, { least: string; greatest: string }>;
}

export function draftOf(document: OfferDocument, currencies: readonly string[]): Draft {
  const text = (amount: number | null | undefined, currency: string) =>
    amount === null || amount === undefined ? "" : decimalText({ amount, currency });
  const { charge } = document;
  return {
    ...document,
    sign: document.sign,
    limitsOf: document.limitsOf,
    notices: document.notices ?? [],
    keeps: document.keeps ?? "none",
    button: document.button,
    repeats: draftOfRepeats(document.repeats),
    telling: {
      ...Object.fromEntries(toldParts.map((part) => [part, document.telling?.[part]])),
      brand: document.telling?.brand ?? "",
      notes: Object.entries(document.telling?.notes ?? {}).map(([name, value]) => ({ name, value })),
    },
    orderNumber: document.orderNumber ?? { before: "", after: "" },
    charge: {
      kind: charge?.kind ?? "none",
      share: charge && charge.share > 0 ? String(charge.share / 100) : "",
      sums: Object.fromEntries(
        currencies.map((currency) => [currency, text(charge?.sums[currency] || null, currency)]),
      ),
    },
    countries: document.countries.join(", "),
    afterwards: document.afterwards ?? {},
    captureAfterDays: document.captureAfterDays === undefined ? "" : String(document.captureAfterDays),
    holdBack: {
      from: Object.fromEntries(
        currencies.map((currency) => [currency, text(document.holdBack?.from[currency], currency)]),
      ),
      countries: document.holdBack?.countries.join(", ") ?? "",
    },
    exemptUpTo: Object.fromEntries(
      currencies.map((currency) => [currency, text(document.exemptUpTo?.[currency], currency)]),
    ),
    limits: Object.fromEntries(
      currencies.map((currency) => [
        currency,
        {
          least: text(document.limits[currency]?.least, currency),
          greatest: text(document.limits[currency]?.greatest, currency),
        },
      ]),
    ),
  };
}

export type DraftReading = { document: OfferDocument; problems: Problem[] };

/** Reads a draft back into a document; what cannot be read is left out and named. */
export function readDraft(draft: Draft, locale: string): DraftReading {
  const problems: Problem[] = [];
  const countries = draft.countries
    .toUpperCase()
    .split(/[\s,;]+/)
    .filter(Boolean);
  for (const country of countries) {
    if (!isCountry(country))
      problems.push(problem("countries", "offer.no-country", { country: country.slice(0, 20) }));
  }
  const read = (path: string, currency: string, typed: string): number | null => {
    const text = typed.trim();
    if (text === "") return null;
    const parsed = parseTyped(text, currency, locale);
    if (parsed.ok && parsed.money.amount >= 0) return parsed.money.amount;
    problems.push(problem(`${path}.${currency}`, "offer.no-amount", { text: text.slice(0, 20), currency }));
    return null;
  };
  const exemptUpTo: Record<string, number> = {};
  if (draft.authentication === "exemption")
    for (const [currency, text] of Object.entries(draft.exemptUpTo)) {
      const amount = read("exemptUpTo", currency, text);
      if (amount !== null) exemptUpTo[currency] = amount;
    }
  const from: Record<string, number> = {};
  for (const [currency, text] of Object.entries(draft.holdBack.from)) {
    const amount = read("holdBack", currency, text);
    if (amount !== null) from[currency] = amount;
  }
  const holdBack = { from, countries: draft.holdBack.countries.split(", ").filter(isCountry) };
  const days = draft.capture === "later" ? draft.captureAfterDays.trim() : "";
  if (days !== "" && !/^[1-9]\d?$/.test(days))
    problems.push(problem("captureAfterDays", "offer.no-days", { most: MOST_DAYS }));
  const limits: OfferDocument["limits"] = {};
  for (const [currency, texts] of Object.entries(draft.limits)) {
    const limit = {
      least: read("limits", currency, texts.least),
      greatest: read("limits", currency, texts.greatest),
    };
    if (limit.least !== null || limit.greatest !== null) limits[currency] = limit;
  }
  const stages = Object.fromEntries(Object.entries(draft.stages).filter(([, stage]) => stage));
  // What is not said is left out, so that nothing looks changed.
  const afterwards = Object.fromEntries(
    Object.entries(draft.afterwards).flatMap(([language, texts]) => {
      const told = Object.entries(texts).filter(([, text]) => text.trim() !== "");
      return told.length > 0 ? [[language, Object.fromEntries(told)] as const] : [];
    }),
  );
  const { kind, share: typed, sums: texts } = draft.charge;
  const share = kind === "none" ? 0 : shareOf(typed);
  if (share === null) problems.push(problem("charge.share", "offer.no-share", { text: typed.slice(0, 20) }));
  const sums: Record<string, number> = {};
  if (kind !== "none")
    for (const [currency, text] of Object.entries(texts)) {
      const amount = read("charge.sums", currency, text);
      if (amount) sums[currency] = amount;
    }
  const charges = kind !== "none" && (Boolean(share) || Object.keys(sums).length > 0);
  const wording = Object.fromEntries(
    Object.entries(draft.wording).map(([language, { button = "", help = "", ...own }]) => [
      language,
      { ...own, ...(button.trim() && { button }), ...(help.trim() && { help }) },
    ]),
  );
  const {
    afterwards: _said,
    exemptUpTo: _exempt,
    captureAfterDays: _days,
    holdBack: _held,
    ...others
  } = draft;
  const {
    charge: _charge,
    orderNumber,
    sign,
    telling: tells,
    limitsOf,
    notices,
    keeps,
    button,
    ...shared
  } = others;
  const { repeats: repeating, ...rest } = shared;
  const { repeats, problems: unread } = readRepeats(repeating, read);
  problems.push(...unread);
  const telling = tellingOf(tells);
  const document = {
    ...rest,
    ...(draft.authentication === "exemption" && { exemptUpTo }),
    ...(Object.keys(afterwards).length > 0 && { afterwards }),
    ...(/^[1-9]\d?$/.test(days) && { captureAfterDays: Number(days) }),
    ...((Object.keys(from).length > 0 || holdBack.countries.length > 0) && { holdBack }),
    ...(charges && { charge: { kind, share: share ?? 0, sums } }),
    ...((orderNumber.before || orderNumber.after) && { orderNumber }),
    ...(sign && { sign }),
    ...(limitsOf && { limitsOf }),
    ...(notices.length > 0 && { notices }),
    ...(keeps !== "none" && { keeps }),
    ...(button && button.places.length > 0 && { button }),
    ...(repeats && { repeats }),
    ...(Object.keys(telling).length > 0 && { telling }),
    ...{ countries: countries.filter(isCountry), limits, stages, wording },
  };
  return { document, problems };
}

/** A share of a hundred as it is typed, in hundredths of a percent; null for what is none. */
function shareOf(typed: string): number | null {
  const text = typed.trim().replace(",", ".").replace(/\s?%$/, "");
  if (text === "") return 0;
  if (!/^\d{1,3}(\.\d{1,2})?$/.test(text)) return null;
  const share = Math.round(Number(text) * 100);
  return share <= 10_000 ? share : null;
}

/** What is told, without what is not said. */
function tellingOf({ brand, notes, ...told }: Draft["telling"]): Telling {
  const pairs = notes.filter(({ name, value }) => name.trim() !== "" || value.trim() !== "");
  return {
    ...Object.fromEntries(Object.entries(told).filter(([, one]) => one !== undefined)),
    ...(brand.trim() && { brand: brand.trim() }),
    ...(pairs.length > 0 && {
      notes: Object.fromEntries(pairs.map(({ name, value }) => [name.trim(), value.trim()])),
    }),
  };
}

import { isCountry } from "#core/places/codes";
import { decimalText, parseTyped } from "#core/money/money";
import type { Afterwards } from "#core/offers/afterwards";
import { MOST_DAYS } from "#core/offers/holding";
import type { OfferDocument } from "#core/offers/offer";
import { type Problem, problem } from "#core/said";

/** An offer's document as a person edits it: amounts and lists are text until they are saved. */
export interface Draft extends Omit<
  OfferDocument,
  "countries" | "limits" | "exemptUpTo" | "captureAfterDays" | "holdBack" | "afterwards"
> {
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
  return {
    ...document,
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
  const { afterwards: _said, exemptUpTo: _exempt, captureAfterDays: _days, holdBack: _held, ...rest } = draft;
  const document = {
    ...rest,
    ...(draft.authentication === "exemption" && { exemptUpTo }),
    ...(Object.keys(afterwards).length > 0 && { afterwards }),
    ...(/^[1-9]\d?$/.test(days) && { captureAfterDays: Number(days) }),
    ...((Object.keys(from).length > 0 || holdBack.countries.length > 0) && { holdBack }),
    ...{ countries: countries.filter(isCountry), limits, stages },
  };
  return { document, problems };
}

import * as yup from "yup";
import { isEmptyText, readRichText, type RichText, unknownPlaces } from "../../rich-text";
import { type Problem, problem, type Reading, type Said, said } from "../../said";
import { readAs } from "../../validated";
import type { OfflineKind } from "./kinds";
import { isPhone, type SlipAsk, readSlipAsk } from "./slip";
import { type BankAccount, readBic, readIban } from "./bank";

/** What an offer without a provider says beyond what every offer says. */
export interface OfflineTerms {
  /** Where shoppers transfer to; null: nowhere, as with cash. */
  account: BankAccount | null;
  /** What shoppers write on a transfer: a creditor reference by ISO 11649, or the order's own number. */
  reference: "creditor" | "order";
  /** Days from the order until the money is due. */
  dueDays: number;
  /** On which days after that the shopper is reminded by a letter, in order. */
  reminders?: number[];
  /** The same as it was said before there were several; see `remindersOf`. */
  remindDays?: number | null;
  /** Days after that until the order is given up; null: never. */
  expireDays: number | null;
  /** The telephone number that shoppers pay to; left out: none. */
  phone?: string;
  /** What shoppers are asked to send in; left out, or null: nothing. */
  slip?: SlipAsk | null;
  /** What shoppers read once they have ordered, by language. */
  instructions: Record<string, RichText>;
}

/** Places that instructions may name. */
export const places = ["order", "total", "due", "account", "reference"] as const;

/** No shopper is reminded more often. */
const MOST_REMINDERS = 12;

/** On which days after it was due a shopper is reminded. */
export const remindersOf = ({ reminders, remindDays }: OfflineTerms): number[] =>
  reminders ?? (remindDays === null || remindDays === undefined ? [] : [remindDays]);

const days = yup.number().strict().integer().min(0).max(365);
const shape = yup
  .object({
    account: yup
      .object({
        holder: yup.string().strict().max(70).defined(),
        iban: yup.string().strict().max(60).defined(),
        bic: yup.string().strict().max(20).defined(),
        bank: yup.string().strict().max(70).defined(),
      })
      .nullable()
      .default(null),
    reference: yup.string().oneOf(["creditor", "order"]).required(),
    dueDays: days.required(),
    remindDays: days.nullable().default(null),
    reminders: yup.array(days.required()).max(MOST_REMINDERS),
    expireDays: days.nullable().default(null),
    phone: yup.string().strict().max(40),
    slip: yup.mixed(),
    instructions: yup.mixed<Record<string, unknown>>().required(),
  })
  .required();

/** Reads what an editor hands over. Languages that the storefront does not have are left out. */
export function readOfflineTerms(input: unknown, languages: readonly string[]): Reading<OfflineTerms> {
  const shaped = readAs(shape, input);
  if (!shaped.ok) return shaped;
  const given = input as OfflineTerms;
  const problems: Problem[] = [];
  const account = given.account && readAccount(given.account, problems);
  const phone = given.phone?.trim() ?? "";
  if (phone !== "" && !isPhone(phone)) problems.push(problem("offline.phone", "offline.no-phone"));
  const slip = readSlipAsk(given.slip, languages, problems);
  const instructions: OfflineTerms["instructions"] = {};
  for (const language of languages) {
    const own = given.instructions[language];
    if (own === undefined) continue;
    const text = readRichText(own);
    if (!text) problems.push(problem(`offline.instructions.${language}`, "offline.text-too-long"));
    else instructions[language] = text;
  }
  return problems.length > 0
    ? { ok: false, problems }
    : {
        ok: true,
        value: {
          account,
          reference: given.reference,
          dueDays: given.dueDays,
          reminders: [...new Set(remindersOf(given))].sort((a, b) => a - b),
          expireDays: given.expireDays ?? null,
          ...(phone && { phone }),
          ...(slip && { slip }),
          instructions,
        },
      };
}

function readAccount({ holder, iban, bic, bank }: BankAccount, problems: Problem[]): BankAccount {
  const read = { holder: holder.trim(), iban: iban.trim(), bic: bic.trim(), bank: bank.trim() };
  if (read.iban !== "") {
    const known = readIban(read.iban);
    if (known) read.iban = known;
    else problems.push(problem("offline.account.iban", "offline.no-iban"));
  }
  if (read.bic !== "") {
    const known = readBic(read.bic);
    if (known) read.bic = known;
    else problems.push(problem("offline.account.bic", "offline.no-bic"));
  }
  return read;
}

/** What an offer starts from, by its kind. */
export const blankTerms = (kind: OfflineKind): OfflineTerms => ({
  account:
    kind === "bank-transfer" || kind === "invoice" ? { holder: "", iban: "", bic: "", bank: "" } : null,
  reference: "creditor",
  dueDays: kind === "invoice" ? 30 : kind === "cash-on-delivery" ? 14 : 7,
  reminders: kind === "bank-transfer" || kind === "invoice" ? [3] : [],
  expireDays: kind === "bank-transfer" || kind === "own" ? 14 : null,
  instructions: {},
});

/** Something that is missing before shoppers can be offered it, at its field. */
export interface Lack {
  path: string;
  says: Said;
}

/** What an offer of a kind still lacks; it cannot go live with any of it. */
export function lacksOf(
  kind: OfflineKind,
  { account, instructions }: OfflineTerms,
  languages: readonly string[],
): Lack[] {
  const lacks: Lack[] = [];
  const lack = (path: string, says: Said) => lacks.push({ path, says });
  if (kind === "bank-transfer" && !account?.iban) lack("offline.account.iban", said("offline.lacks-account"));
  if (account?.iban && !account.holder) lack("offline.account.holder", said("offline.lacks-holder"));
  for (const language of languages) {
    const text = instructions[language];
    const path = `offline.instructions.${language}`;
    if (!text || isEmptyText(text))
      lack(path, said("offline.lacks-instructions", { language: { language } }));
    else
      for (const name of unknownPlaces(text, places))
        lack(path, said("offline.unknown-place", { name, language: { language } }));
  }
  return lacks;
}

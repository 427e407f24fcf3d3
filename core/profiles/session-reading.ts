import * as yup from "yup";
import { isCountry } from "../places/codes";
import { said } from "../said";
import { validated } from "../validated";
import { writtenAmount } from "./amount";
import type { SessionAddress, SessionReading } from "./answers";
import { evaluate, ProfileError } from "./expressions";
import { Fields, type Raw } from "./fields";
import type { Profile } from "./profile";

const text = (most: number) => yup.string().strict().trim().max(most).nullable();
const address = yup.object({
  country: yup
    .string()
    .strict()
    .required()
    .test("country", "must be an ISO 3166-1 alpha-2 code", (value) => isCountry(value ?? "")),
  // What is no ISO 3166-2 code, as wallets write regions, is told to nobody.
  region: text(100),
  postcode: text(12),
  city: text(120),
  lines: yup.array(yup.string().strict().trim().max(200).required()).max(6).nullable(),
});
const contact = yup
  .object({ name: text(200), email: yup.string().strict().max(254).email().nullable(), phone: text(40) })
  .nullable()
  .default(undefined);

const shape = yup.object({
  state: yup.string().oneOf(["open", "agreed", "over"]).required(),
  token: yup.string().strict().max(20_000).nullable(),
  delivery: text(64),
  address: address.nullable().default(undefined),
  contact,
});
const question = yup.object({ address: address.required(), delivery: text(64) });

const REGION = /^([A-Z]{2}-)?[0-9A-Z]{1,3}$/;

/** Leaves out what is empty, and a region that is no code. */
const told = <T extends object>(value: T): Partial<{ [K in keyof T]: NonNullable<T[K]> }> =>
  Object.fromEntries(
    Object.entries(value).filter(
      ([name, one]) =>
        one !== null && one !== undefined && one !== "" && (name !== "region" || REGION.test(String(one))),
    ),
  ) as Partial<{ [K in keyof T]: NonNullable<T[K]> }>;

function read<T>(profile: Profile, schema: yup.Schema<T>, value: unknown, place: string): T {
  try {
    return validated(schema, value ?? {});
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const [first] = error.inner.length > 0 ? error.inner : [error];
    throw new ProfileError(
      "reading-malformed",
      said("answers.does-not-fit", {
        provider: profile.name,
        path: first?.path ? `${place} → ${first.path}` : place,
        error: first?.errors[0] ?? "",
      }),
    );
  }
}

/**
 * Reads what `readSession` makes of an answer. Throws `reading-malformed` when the profile does not fit it, or what was
 * agreed to lacks its token, its sum, or where it goes.
 */
export function sessionReading(profile: Profile, value: unknown): SessionReading {
  const place = "operations.readSession.response";
  const raw = read(profile, shape, value, place);
  if (raw.state !== "agreed") return { state: raw.state };
  const fields = new Fields(profile, value as Raw, "");
  const currency = fields.currencyCode();
  const amount = fields.amount("amount", currency);
  const lacks = (name: string) => fields.refuse(said("response.lacks", { name }));
  if (amount === 0) return lacks("amount");
  if (!raw.address) return lacks("address");
  return {
    ...{ state: "agreed", token: raw.token || lacks("token"), amount, currency },
    address: told(raw.address) as SessionAddress,
    contact: raw.contact ? told(raw.contact) : {},
    ...(raw.delivery && { delivery: raw.delivery }),
  };
}

/** What a wallet wants to know while its shopper chooses. */
export interface SessionQuestion {
  address: SessionAddress;
  delivery?: string;
}

/** Reads what a wallet asks. Throws a `ProfileError`: `expression-failed`, `reading-malformed`, `operation-missing`. */
export async function sessionQuestion(profile: Profile, body: unknown): Promise<SessionQuestion> {
  const raw = read(
    profile,
    question,
    await evaluate(sessionsOf(profile).asked, body as Record<string, unknown>),
    "sessions.asked",
  );
  const { lines: _none, ...where } = raw.address;
  return { address: told(where) as SessionAddress, ...(raw.delivery && { delivery: raw.delivery }) };
}

/** What a wallet is answered: what it would come to, in minor units, or why it cannot be. */
export interface SessionAnswer {
  refused: string | null;
  currency: string;
  total: number;
  deliveries: { id: string; name: string; price: number }[];
  delivery: string | null;
}

/** Writes an answer as the wallet reads it. Throws a `ProfileError`. */
export function sessionAnswer(
  profile: Profile,
  { total, deliveries, ...answer }: SessionAnswer,
): Promise<unknown> {
  const written = (sum: number) => writtenAmount(sum, answer.currency, profile);
  return evaluate(sessionsOf(profile).told, {
    ...answer,
    total: written(total),
    deliveries: deliveries.map((one) => ({ ...one, price: written(one.price) })),
  });
}

function sessionsOf(profile: Profile): NonNullable<Profile["sessions"]> {
  if (profile.sessions) return profile.sessions;
  throw new ProfileError(
    "operation-missing",
    said("response.no-operation", { provider: profile.name, operation: "sessions" }),
  );
}

import { isCurrency } from "../money/currencies";
import { type Said, said } from "../said";
import { amountOf, signedAmountOf } from "./amount";
import { LONGEST_LIST } from "./answers";
import { ProfileError } from "./expressions";
import { instantOf } from "./instant";
import type { Profile } from "./profile";

const MOST_TEXT = 2_000;

export type Raw = Record<string, unknown>;

/** One object as an expression made it, with what may be taken of it. Every reader throws `reading-malformed`. */
export class Fields {
  constructor(
    readonly profile: Profile,
    readonly raw: Raw,
    readonly currency: string,
    /** Where it stands, such as `refunds[0].`; empty for the payment itself. */
    readonly at = "",
  ) {}

  refuse(what: Said): never {
    throw new ProfileError(
      "reading-malformed",
      said("response.does-not-fit", { provider: this.profile.name, what }),
    );
  }

  text(name: string): string {
    const value = this.raw[name];
    if (typeof value === "number" && Number.isSafeInteger(value)) return String(value);
    if (typeof value !== "string" || value === "" || value.length > MOST_TEXT)
      return this.refuse(said("response.lacks", { name: this.at + name }));
    return value;
  }

  /** A text under its own name, or nothing. */
  maybe<N extends string>(name: N): Partial<Record<N, string>> {
    const value = this.raw[name];
    return (
      typeof value === "string" && value !== "" ? { [name]: value.slice(0, MOST_TEXT) } : {}
    ) as Partial<Record<N, string>>;
  }

  amount(name: string, currency = this.currency): number {
    const value = this.raw[name] ?? 0;
    const amount = amountOf(value, currency, this.profile);
    return (
      amount ??
      this.refuse(
        said("response.no-amount", { value: JSON.stringify(value), name: this.at + name, currency }),
      )
    );
  }

  /** An amount that may be below nothing, which must be there. */
  signed(name: string, currency = this.currency): number {
    const value = this.raw[name];
    const amount = signedAmountOf(value, currency, this.profile);
    return (
      amount ??
      this.refuse(
        said("response.no-amount", { value: JSON.stringify(value ?? null), name: this.at + name, currency }),
      )
    );
  }

  /** An ISO 4217 code under its own name, or that of what it stands in. */
  currencyCode(name = "currency"): string {
    const currency = this.raw[name] ?? this.currency;
    return isCurrency(currency) ? currency : this.refuse(said("response.names-no-currency-iso"));
  }

  /** A form's fields under their own name, or nothing. */
  texts<N extends string>(name: N): Partial<Record<N, Record<string, string>>> {
    const value = this.raw[name];
    if (value === undefined || value === null) return {};
    const entries = typeof value === "object" && !Array.isArray(value) ? Object.entries(value) : [];
    const odd = entries.some(([, one]) => typeof one !== "string" || one.length > 20_000);
    if (entries.length === 0 || entries.length > 50 || odd)
      return this.refuse(said("response.lacks", { name: this.at + name }));
    return { [name]: Object.fromEntries(entries) } as Partial<Record<N, Record<string, string>>>;
  }

  /** An instant under its own name, or nothing. */
  instant<N extends string>(name: N): Partial<Record<N, number>> {
    const value = this.raw[name];
    if (value === undefined || value === null) return {};
    const instant = instantOf(value);
    if (Number.isNaN(instant)) this.refuse(said("response.no-time", { name: this.at + name }));
    return { [name]: instant } as Partial<Record<N, number>>;
  }

  /** A list under its own name, each of its objects read; nothing where the expression gives none. */
  list<N extends string, T>(
    name: N,
    read: (fields: Fields) => T,
    most = LONGEST_LIST,
  ): Partial<Record<N, T[]>> {
    const value = this.raw[name];
    if (value === undefined || value === null) return {};
    const list = Array.isArray(value) ? value : [value];
    if (list.length > most) this.refuse(said("response.lacks", { name: this.at + name }));
    return {
      [name]: list.map((one, i) => {
        if (typeof one !== "object" || one === null)
          return this.refuse(said("response.lacks", { name: `${this.at}${name}[${i}]` }));
        return read(new Fields(this.profile, one as Raw, this.currency, `${this.at}${name}[${i}].`));
      }),
    } as Partial<Record<N, T[]>>;
  }
}

/** A page of a list as an expression made it; what is no object is refused as one that lacks `list`. */
export function pageOf(profile: Profile, value: unknown, list: string): Fields {
  const page = new Fields(profile, (value ?? {}) as Raw, "");
  return typeof page.raw === "object" && !Array.isArray(page.raw)
    ? page
    : page.refuse(said("response.lacks", { name: list }));
}

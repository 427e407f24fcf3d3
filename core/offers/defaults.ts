import type { MethodKind } from "../profiles/profile";
import { checkStatement, STATEMENT_LENGTH, type StatementLimits } from "./statement";

/** What shoppers call a kind of method where it is not known by its provider's name. */
const names: Partial<Record<MethodKind, Record<string, string>>> = {
  card: {
    en: "Card",
    de: "Karte",
    fr: "Carte bancaire",
    es: "Tarjeta",
    it: "Carta",
    nl: "Kaart",
    pl: "Karta",
    sv: "Kort",
    da: "Kort",
    ja: "カード",
    ar: "بطاقة",
  },
  instalments: {
    en: "Instalments",
    de: "Ratenkauf",
    fr: "Paiement en plusieurs fois",
    es: "Pago a plazos",
    it: "Pagamento a rate",
    nl: "Gespreid betalen",
    pl: "Raty",
    sv: "Delbetalning",
    da: "Delbetaling",
    ja: "分割払い",
    ar: "أقساط",
  },
};

/** What a new offer is called to begin with, in a language; a wallet by its own name, which shoppers look for. */
export const defaultLabel = (kind: MethodKind, methodName: string, language: string): string =>
  names[kind]?.[language.split("-")[0] ?? language] ?? names[kind]?.en ?? methodName;

/**
 * A statement text out of the storefront's name, as shoppers will look for it: letters that statements can hold, as many
 * whole words as fit. Empty where nothing of it would do.
 */
export function proposeStatement(storefrontName: string, limits: StatementLimits = {}): string {
  const most = Math.min(limits.most ?? STATEMENT_LENGTH.most, STATEMENT_LENGTH.most);
  const plain = storefrontName
    .normalize("NFKD")
    .replace(/[^A-Za-z0-9 .,&/-]/g, "")
    .toUpperCase()
    .trim();
  let text = "";
  for (const word of plain.split(/\s+/)) {
    const longer = text ? `${text} ${word}` : word;
    if (longer.length > most) break;
    text = longer;
  }
  text ||= plain.slice(0, most).trim();
  return checkStatement(text, storefrontName, limits).some((one) => one.blocking) ? "" : text;
}

import { paragraphs, type RichText } from "../../rich-text";
import type { OfflineKind } from "./kinds";

interface Words {
  name: string;
  says: string;
}

/** What shoppers call a way of paying without a provider, and what they are told once they have ordered, in each language. */
const words: Record<string, Record<Exclude<OfflineKind, "own">, Words>> = {
  en: {
    "bank-transfer": {
      name: "Bank transfer",
      says: "Please transfer {total} by {due} and quote {reference}. We begin once the money has arrived.",
    },
    invoice: {
      name: "Invoice",
      says: "The invoice comes with the goods. Please pay {total} by {due} and quote {reference}.",
    },
    "cash-on-delivery": {
      name: "Cash on delivery",
      says: "Please have {total} ready when order {order} is delivered.",
    },
    cheque: {
      name: "Cheque",
      says: "Please send a cheque over {total} by {due} and write {reference} on its back.",
    },
  },
  de: {
    "bank-transfer": {
      name: "Überweisung",
      says: "Bitte überweisen Sie {total} bis zum {due} mit dem Verwendungszweck {reference}. Sobald das Geld da ist, geht es los.",
    },
    invoice: {
      name: "Rechnung",
      says: "Die Rechnung liegt der Ware bei. Bitte zahlen Sie {total} bis zum {due} und geben Sie {reference} an.",
    },
    "cash-on-delivery": {
      name: "Nachnahme",
      says: "Bitte halten Sie {total} bereit, wenn die Bestellung {order} geliefert wird.",
    },
    cheque: {
      name: "Scheck",
      says: "Bitte senden Sie bis zum {due} einen Scheck über {total} und schreiben Sie {reference} auf die Rückseite.",
    },
  },
  fr: {
    "bank-transfer": {
      name: "Virement bancaire",
      says: "Merci de virer {total} avant le {due} en indiquant {reference}. Nous commençons dès réception.",
    },
    invoice: {
      name: "Facture",
      says: "La facture est jointe aux articles. Merci de payer {total} avant le {due} en indiquant {reference}.",
    },
    "cash-on-delivery": {
      name: "Paiement à la livraison",
      says: "Merci de préparer {total} pour la livraison de la commande {order}.",
    },
    cheque: {
      name: "Chèque",
      says: "Merci d’envoyer un chèque de {total} avant le {due} en inscrivant {reference} au dos.",
    },
  },
  es: {
    "bank-transfer": {
      name: "Transferencia bancaria",
      says: "Transfiera {total} antes del {due} e indique {reference}. Empezamos en cuanto llegue el dinero.",
    },
    invoice: {
      name: "Factura",
      says: "La factura va con los artículos. Pague {total} antes del {due} e indique {reference}.",
    },
    "cash-on-delivery": {
      name: "Contra reembolso",
      says: "Tenga preparados {total} cuando se entregue el pedido {order}.",
    },
    cheque: {
      name: "Cheque",
      says: "Envíe un cheque de {total} antes del {due} y escriba {reference} en el dorso.",
    },
  },
  it: {
    "bank-transfer": {
      name: "Bonifico bancario",
      says: "Effettui un bonifico di {total} entro il {due} indicando {reference}. Iniziamo appena arriva il denaro.",
    },
    invoice: {
      name: "Fattura",
      says: "La fattura arriva con la merce. Paghi {total} entro il {due} indicando {reference}.",
    },
    "cash-on-delivery": {
      name: "Contrassegno",
      says: "Tenga pronti {total} alla consegna dell’ordine {order}.",
    },
    cheque: {
      name: "Assegno",
      says: "Invii un assegno di {total} entro il {due} e scriva {reference} sul retro.",
    },
  },
  nl: {
    "bank-transfer": {
      name: "Overschrijving",
      says: "Maak {total} over vóór {due} met vermelding van {reference}. We beginnen zodra het geld er is.",
    },
    invoice: {
      name: "Factuur",
      says: "De factuur zit bij de goederen. Betaal {total} vóór {due} met vermelding van {reference}.",
    },
    "cash-on-delivery": {
      name: "Betalen bij levering",
      says: "Houd {total} klaar wanneer bestelling {order} wordt bezorgd.",
    },
    cheque: {
      name: "Cheque",
      says: "Stuur vóór {due} een cheque van {total} en schrijf {reference} op de achterkant.",
    },
  },
  da: {
    "bank-transfer": {
      name: "Bankoverførsel",
      says: "Overfør {total} senest {due}, og angiv {reference}. Vi går i gang, når pengene er kommet.",
    },
    invoice: {
      name: "Faktura",
      says: "Fakturaen følger med varerne. Betal {total} senest {due}, og angiv {reference}.",
    },
    "cash-on-delivery": {
      name: "Betaling ved levering",
      says: "Hav {total} klar, når ordre {order} bliver leveret.",
    },
    cheque: {
      name: "Check",
      says: "Send en check på {total} senest {due}, og skriv {reference} på bagsiden.",
    },
  },
  pl: {
    "bank-transfer": {
      name: "Przelew bankowy",
      says: "Prosimy przelać {total} do {due}, podając {reference}. Zaczynamy, gdy pieniądze nadejdą.",
    },
    invoice: {
      name: "Faktura",
      says: "Faktura jest dołączona do towaru. Prosimy zapłacić {total} do {due}, podając {reference}.",
    },
    "cash-on-delivery": {
      name: "Płatność przy odbiorze",
      says: "Prosimy przygotować {total} na dostawę zamówienia {order}.",
    },
    cheque: {
      name: "Czek",
      says: "Prosimy przesłać czek na {total} do {due} i wpisać {reference} na odwrocie.",
    },
  },
  ja: {
    "bank-transfer": {
      name: "銀行振込",
      says: "{due}までに{total}をお振り込みのうえ、{reference}をご記入ください。ご入金を確認してから作業を始めます。",
    },
    invoice: {
      name: "請求書払い",
      says: "請求書は商品に同封します。{due}までに{total}をお支払いのうえ、{reference}をご記入ください。",
    },
    "cash-on-delivery": {
      name: "代金引換",
      says: "ご注文{order}のお届けの際に{total}をご用意ください。",
    },
    cheque: {
      name: "小切手",
      says: "{due}までに{total}の小切手をお送りいただき、裏面に{reference}をご記入ください。",
    },
  },
  ar: {
    "bank-transfer": {
      name: "تحويل مصرفي",
      says: "يُرجى تحويل {total} قبل {due} مع ذكر {reference}. نبدأ فور وصول المبلغ.",
    },
    invoice: {
      name: "فاتورة",
      says: "تصلكم الفاتورة مع البضاعة. يُرجى دفع {total} قبل {due} مع ذكر {reference}.",
    },
    "cash-on-delivery": {
      name: "الدفع عند الاستلام",
      says: "يُرجى تجهيز {total} عند تسليم الطلب {order}.",
    },
    cheque: {
      name: "شيك",
      says: "يُرجى إرسال شيك بقيمة {total} قبل {due} وكتابة {reference} على ظهره.",
    },
  },
};

const wordsOf = (kind: OfflineKind, language: string): Words | null =>
  kind === "own" ? null : (words[language.split("-")[0] ?? language]?.[kind] ?? null);

/** What shoppers call it in a language; empty where nothing is known, which is a gap to fill. */
export const offlineName = (kind: OfflineKind, language: string): string =>
  wordsOf(kind, language)?.name ?? "";

/** What shoppers are told once they have ordered, to begin with; null where it has to be written. */
export function offlineInstructions(kind: OfflineKind, language: string): RichText | null {
  const says = wordsOf(kind, language)?.says;
  return says === undefined ? null : paragraphs(says);
}

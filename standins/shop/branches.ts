/** Luvwinkel's shops: each sells in its own country, and is a storefront of its own to whoever takes the payments. */
export interface Branch {
  name: string;
  currency: string;
  countries: readonly string[];
  languages: readonly Language[];
  /** The shop's own names for where an order stands. */
  stages: readonly string[];
  /** Whether only dealers buy there. */
  dealersOnly?: true;
}

export type Language = "de" | "en" | "ja";

const german = ["Reserved", "Paid: to the loft", "Refused", "Handed back", "Under question"];
const english = ["Reserved", "Paid", "Refused", "Refunded", "Under question"];

export const branches = {
  de: {
    ...{ name: "Deutschland", currency: "EUR", languages: ["de", "en"], stages: german },
    countries: ["DE", "AT", "NL", "DK", "CH"],
  },
  uk: {
    ...{ name: "United Kingdom", currency: "GBP", languages: ["en"], stages: english },
    countries: ["GB", "IE"],
  },
  jp: {
    ...{ name: "日本", currency: "JPY", languages: ["ja", "en"], stages: english },
    countries: ["JP"],
  },
  dealers: {
    ...{ name: "Händler", currency: "EUR", languages: ["de"], stages: english },
    ...{ countries: ["DE", "AT"], dealersOnly: true },
  },
} as const satisfies Record<string, Branch>;
export type BranchId = keyof typeof branches;
export const isBranch = (value: unknown): value is BranchId =>
  typeof value === "string" && Object.hasOwn(branches, value);
export const branchOf = (id: BranchId): Branch => branches[id];

/** Who can sign in, by the word that they sign in with, and the group of shoppers that they are then. */
export const customers: Record<string, { group: string; name: string }> = {
  aufwind: { group: "dealers", name: "Drachenladen Ostufer" },
  schulhof: { group: "clubs", name: "Schule am Deich" },
  seebrise: { group: "retail", name: "Ida Möwe" },
};

/** How many of a currency's minor units a euro cent comes to here. */
const rates: Record<string, number> = { EUR: 1, GBP: 0.86, JPY: 1.6 };
const digits = (currency: string) => (currency === "JPY" ? 0 : 2);

/** A price of euro cents in minor units of another currency. */
export const priceIn = (cents: number, currency: string): number =>
  Math.round(cents * (rates[currency] ?? 1));

/** Minor units as decimal text, as it is sent. */
export const decimal = (minor: number, currency = "EUR"): string =>
  (minor / 10 ** digits(currency)).toFixed(digits(currency));

/** Minor units of decimal text. */
export const minorOf = (text: string, currency = "EUR"): number =>
  Math.round(Number(text) * 10 ** digits(currency));

const locales: Record<string, string> = { EUR: "de-DE", GBP: "en-GB", JPY: "ja-JP" };

/** Minor units as a shopper reads them. */
export const money = (minor: number, currency = "EUR"): string =>
  new Intl.NumberFormat(locales[currency] ?? "de-DE", { style: "currency", currency })
    .format(minor / 10 ** digits(currency))
    .replace(/\u00a0/g, " ");

/** What the shop says, in each language that it speaks. */
export const shopWords = {
  de: {
    ...{
      lookOnceMore: "Bitte sehen Sie noch einmal nach",
      soldOut: "Ausverkauft.",
      notServed: "Dorthin liefern wir nicht.",
    },
    ...{ toCheckout: "Zur Kasse", checkout: "Kasse", inBasket: "Im Warenkorb" },
    ...{ today: "Was fliegt heute?", toBasket: "In den Warenkorb", basket: "Warenkorb", change: "ändern" },
    ...{ empty: "Der Warenkorb ist leer", toShop: "Zum Laden", shipping: "Versand", sum: "Zusammen" },
    ...{ tax: "darin 19 % Steuer", email: "E-Mail", country: "Land", postcode: "Postleitzahl" },
    ...{
      delivery: "Lieferung",
      language: "Sprache",
      pay: "Zur Zahlung",
      count: "Anzahl",
      order: "Bestellung",
    },
    ...{ parcel: "Paket", "pick-up": "Abholung in der Segelmacherei", state: "Stand", currency: "Währung" },
    ...{ deposit: "Erst 30 % anzahlen, den Rest nach dem Bau", signIn: "Anmelden", signOut: "Abmelden" },
    ...{ now: "Jetzt zu zahlen", badMail: "Bitte eine E-Mail-Adresse angeben.", motto: "Drachen vom Haff" },
    ...{
      word: "Kundenwort",
      notKnown: "Dieses Wort kennen wir nicht.",
      dealersOnly: "Hier kaufen Händler. Bitte anmelden.",
      mine: "Womit ich bezahle",
      seasons: "Abonnements",
      subscribe: "Abonnieren",
      once: "einmalig",
      trial: "Probetage",
      noPlans: "Zurzeit gibt es hier keine Abonnements.",
    },
  },
  en: {
    ...{ lookOnceMore: "Please look once more", soldOut: "Sold out.", notServed: "We do not deliver there." },
    ...{ toCheckout: "To the checkout", checkout: "Checkout", inBasket: "In the basket" },
    ...{ today: "What flies today?", toBasket: "Put into the basket", basket: "Basket", change: "change" },
    ...{ empty: "The basket is empty", toShop: "To the shop", shipping: "Shipping", sum: "Total" },
    ...{ tax: "tax of 19 % included", email: "E-mail", country: "Country", postcode: "Postcode" },
    ...{ delivery: "Delivery", language: "Language", pay: "To payment", count: "Number of", order: "Order" },
    ...{ parcel: "Parcel", "pick-up": "Fetched at the sail loft", state: "Stage", currency: "Currency" },
    ...{ deposit: "30 % now, the rest when it is built", signIn: "Sign in", signOut: "Sign out" },
    ...{ now: "To pay now", badMail: "Please give an e-mail address.", motto: "Kites from the lagoon" },
    ...{
      word: "Customer word",
      notKnown: "We do not know this word.",
      dealersOnly: "Dealers buy here. Please sign in.",
      mine: "What I pay with",
      seasons: "Subscriptions",
      subscribe: "Subscribe",
      once: "once",
      trial: "days of trial",
      noPlans: "There are no subscriptions here at the moment.",
    },
  },
  ja: {
    ...{
      lookOnceMore: "もう一度ご確認ください",
      soldOut: "売り切れです。",
      notServed: "その住所には配達できません。",
    },
    ...{ toCheckout: "レジへ進む", checkout: "レジ", inBasket: "かごの中" },
    ...{ today: "今日は何を揚げますか", toBasket: "かごに入れる", basket: "かご", change: "変更" },
    ...{ empty: "かごは空です", toShop: "店へ", shipping: "送料", sum: "合計" },
    ...{ tax: "うち税 19 %", email: "メール", country: "国", postcode: "郵便番号" },
    ...{ delivery: "配送", language: "言語", pay: "お支払いへ", count: "数量", order: "ご注文" },
    ...{ parcel: "宅配", "pick-up": "工房で受け取り", state: "状況", currency: "通貨" },
    ...{ deposit: "先に30 %、残りは完成後に", signIn: "ログイン", signOut: "ログアウト" },
    ...{ now: "今お支払いになる額", badMail: "メールアドレスをご記入ください。", motto: "潟の凧" },
    ...{
      word: "お客様の言葉",
      notKnown: "この言葉は存じません。",
      dealersOnly: "販売店専用です。ログインしてください。",
      mine: "お支払い方法",
      seasons: "定期購入",
      subscribe: "申し込む",
      once: "初回のみ",
      trial: "日間のお試し",
      noPlans: "現在、定期購入はございません。",
    },
  },
} as const;
export type ShopWords = Record<keyof (typeof shopWords)["de"], string>;
export const languageNames: Record<Language, string> = { de: "Deutsch", en: "English", ja: "日本語" };

/** What Luvwinkel sells. Prices in euro cents, tax of 19 per cent included. */
export interface Good {
  id: string;
  name: string;
  says: string;
  /** The same in other languages. */
  abroad: Record<"en" | "ja", { name: string; says: string }>;
  cents: number;
  shape: string;
  /** What kind of goods it is, in the shop's own word, and what one weighs in grams. */
  kind: "kite" | "part" | "workshop";
  grams: number;
}

export const goods: Good[] = [
  {
    id: "moewe",
    name: "Einleiner „Möwe“",
    says: "Fliegt ab einem Hauch, 140 cm",
    abroad: {
      en: { name: "Single-line kite “Gull”", says: "Flies in a breath of wind, 140 cm" },
      ja: { name: "一本糸の凧「かもめ」", says: "微風で揚がります、140 cm" },
    },
    cents: 3900,
    kind: "kite",
    grams: 450,
    shape: "M50 8 82 44 50 92 18 44z",
  },
  {
    id: "sturm",
    name: "Lenkdrachen „Sturmwind“",
    says: "Zwei Leinen, 190 cm, Kohlefaser",
    abroad: {
      en: { name: "Steerable kite “Gale”", says: "Two lines, 190 cm, carbon fibre" },
      ja: { name: "二本糸の凧「疾風」", says: "二本糸、190 cm、炭素繊維" },
    },
    cents: 18900,
    kind: "kite",
    grams: 900,
    shape: "M50 14 94 74 50 58 6 74z",
  },
  {
    id: "leine",
    name: "Leine auf Spule, 50 m",
    says: "30 kg, geflochten",
    abroad: {
      en: { name: "Line on a reel, 50 m", says: "30 kg, braided" },
      ja: { name: "糸巻き 50 m", says: "30 kg、編み" },
    },
    cents: 1290,
    kind: "part",
    grams: 300,
    shape: "M20 20h60v14H20zM28 34h44v32H28zM20 66h60v14H20z",
  },
  {
    id: "stab",
    name: "Stabsatz",
    says: "Vier Stäbe, 4 mm",
    abroad: {
      en: { name: "Set of spars", says: "Four spars, 4 mm" },
      ja: { name: "竿一式", says: "4本、4 mm" },
    },
    cents: 2450,
    kind: "part",
    grams: 600,
    shape: "M14 82 78 10l6 6-64 72zM30 90 90 26l4 4-58 66z",
  },
  {
    id: "band",
    name: "Reparaturband",
    says: "Spinnaker, selbstklebend, 2 m",
    abroad: {
      en: { name: "Repair tape", says: "Spinnaker, self-adhesive, 2 m" },
      ja: { name: "補修テープ", says: "スピンネーカー、粘着、2 m" },
    },
    cents: 390,
    kind: "part",
    grams: 40,
    shape: "M50 14a36 36 0 1 0 .1 0zM50 36a14 14 0 1 1-.1 0z",
  },
  {
    id: "werktag",
    name: "Ein Tag in der Segelmacherei",
    says: "Für vier Personen, mit eigenem Drachen",
    abroad: {
      en: { name: "A day in the sail loft", says: "For four, with a kite of your own" },
      ja: { name: "工房での一日", says: "四名様、ご自分の凧付き" },
    },
    cents: 64000,
    kind: "workshop",
    grams: 0,
    shape: "M12 88V44l38-28 38 28v44zM40 88V62h20v26z",
  },
];

export const SHIPPING = 490;
/** How what was ordered can be had; workshop days are not delivered at all. */
export const deliveries = ["parcel", "pick-up"] as const;
export type Delivery = (typeof deliveries)[number];
export const isDelivery = (value: unknown): value is Delivery => deliveries.some((one) => one === value);
/** What a good is called in a language. */
export const goodIn = (good: Good, language: string): { name: string; says: string } =>
  language === "en" || language === "ja" ? good.abroad[language] : good;
/** The tax in a price that includes it. */
export const taxIn = (cents: number) => Math.round((cents * 19) / 119);

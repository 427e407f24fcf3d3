/** What Luvwinkel sells. Prices in euro cents, tax of 19 per cent included. */
export interface Good {
  id: string;
  name: string;
  says: string;
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
    cents: 3900,
    kind: "kite",
    grams: 450,
    shape: "M50 8 82 44 50 92 18 44z",
  },
  {
    id: "sturm",
    name: "Lenkdrachen „Sturmwind“",
    says: "Zwei Leinen, 190 cm, Kohlefaser",
    cents: 18900,
    kind: "kite",
    grams: 900,
    shape: "M50 14 94 74 50 58 6 74z",
  },
  {
    id: "leine",
    name: "Leine auf Spule, 50 m",
    says: "30 kg, geflochten",
    cents: 1290,
    kind: "part",
    grams: 300,
    shape: "M20 20h60v14H20zM28 34h44v32H28zM20 66h60v14H20z",
  },
  {
    id: "stab",
    name: "Stabsatz",
    says: "Vier Stäbe, 4 mm",
    cents: 2450,
    kind: "part",
    grams: 600,
    shape: "M14 82 78 10l6 6-64 72zM30 90 90 26l4 4-58 66z",
  },
  {
    id: "band",
    name: "Reparaturband",
    says: "Spinnaker, selbstklebend, 2 m",
    cents: 390,
    kind: "part",
    grams: 40,
    shape: "M50 14a36 36 0 1 0 .1 0zM50 36a14 14 0 1 1-.1 0z",
  },
  {
    id: "werktag",
    name: "Ein Tag in der Segelmacherei",
    says: "Für vier Personen, mit eigenem Drachen",
    cents: 64000,
    kind: "workshop",
    grams: 0,
    shape: "M12 88V44l38-28 38 28v44zM40 88V62h20v26z",
  },
];

export const SHIPPING = 490;
/** How what was ordered can be had; workshop days are not delivered at all. */
export const DELIVERIES = { parcel: "Paket", "pick-up": "Abholung in der Segelmacherei" } as const;
export type Delivery = keyof typeof DELIVERIES;
export const isDelivery = (value: unknown): value is Delivery => value === "parcel" || value === "pick-up";
export const euro = (cents: number) => `${(cents / 100).toFixed(2).replace(".", ",")} €`;
export const decimal = (cents: number) => (cents / 100).toFixed(2);
/** The tax in a price that includes it. */
export const taxIn = (cents: number) => Math.round((cents * 19) / 119);

/** The shop's own names for where an order stands. */
export const STAGES = ["Reserved", "Paid: to the loft", "Refused", "Handed back", "Under question"];

import { addStorefront, allStorefronts, type NewStorefront } from "#server/storefronts/storefronts";
import { addPerson } from "#server/people/people";
import { people } from "#server/database/schema";
import type { Runtime } from "#server/runtime";

/** Who may sign in to the demo. */
export const demoOwner = { email: "ida@luvwinkel.example", name: "Ida Haff", password: "drachen-im-ostwind" };

export const luvwinkelDe = (shopOrigin: string): NewStorefront => ({
  id: "luvwinkel-de",
  name: "Luvwinkel DE",
  domain: new URL(shopOrigin).host,
  https: new URL(shopOrigin).protocol === "https:",
  country: "DE",
  languages: ["de", "en"],
  currencies: ["EUR"],
  groups: [
    { id: "retail", name: "Retail" },
    { id: "clubs", name: "Clubs and schools" },
    { id: "dealers", name: "Dealers" },
  ],
});

/** The other storefronts of the sail loft: their shops are not part of the demo, their set-up is. */
const others: NewStorefront[] = [
  {
    id: "luvwinkel-uk",
    name: "Luvwinkel UK",
    domain: "kites.luvwinkel.example",
    https: true,
    country: "GB",
    languages: ["en"],
    currencies: ["GBP"],
    groups: [
      { id: "retail", name: "Retail" },
      { id: "clubs", name: "Clubs and schools" },
    ],
  },
  {
    id: "luvwinkel-jp",
    name: "Luvwinkel JP",
    domain: "tako.luvwinkel.example",
    https: true,
    country: "JP",
    languages: ["ja", "en"],
    currencies: ["JPY"],
    groups: [{ id: "retail", name: "Retail" }],
  },
  {
    id: "luvwinkel-dealers",
    name: "Dealer desk",
    domain: "haendler.luvwinkel.example",
    https: true,
    country: "DE",
    languages: ["de"],
    currencies: ["EUR"],
    groups: [{ id: "dealers", name: "Dealers" }],
  },
];

/** Puts the owner and the storefronts in, once. */
export async function seed(rt: Runtime, shopOrigin: string): Promise<void> {
  const [someone] = await rt.db.orm.select({ id: people.id }).from(people).limit(1);
  if (!someone) await addPerson(rt, { ...demoOwner, role: "owner" });
  if ((await allStorefronts(rt)).length > 0) return;
  for (const one of [luvwinkelDe(shopOrigin), ...others]) await addStorefront(rt, demoOwner.email, one);
}

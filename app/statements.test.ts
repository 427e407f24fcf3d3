import { RouterContextProvider } from "react-router";
import { afterAll, beforeAll, expect, it } from "vitest";
import { addConnection } from "#server/connections/connections";
import { addOffer, offersOf } from "#server/offers/offers";
import { addPerson } from "#server/people/people";
import { signIn } from "#server/people/sign-in";
import { installProfiles } from "#server/profiles/profiles";
import { currentVersions } from "#server/profiles/profiles";
import { mustStand } from "#server/storefronts/now";
import { addStorefront } from "#server/storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "#server/test-runtime";
import { personContext, runtimeContext } from "./context";
import { standsContext } from "./frame/storefront-context";
import * as signedIn from "./frame/signed-in";
import * as frame from "./frame/storefront";
import * as home from "./home/home";
import * as handshake from "./connections/handshake";
import * as offer from "./offers/edit-offer";
import * as board from "./rehearsal/board";
import * as cutOver from "./cutover/interlocking";
import * as payments from "./payments/payments";
import * as webhooks from "./intake/webhooks";
import * as exchanges from "./exchanges/exchanges";
import * as shop from "./shop/shop";
import * as plan from "./profiles/plan";

// How many statements the loaders of a page ask of the database: few, and no more with ten connections than with one.

const MOST = 12;

let world: TestRuntime;
let cookie = "";
let statements = 0;
const person = { email: "ida@example.org", name: "Ida", password: "ten kites in the wind" };
beforeAll(async () => {
  world = await openTestRuntime();
  const { rt } = world;
  await installProfiles(rt, "profiles");
  await addPerson(rt, { ...person, role: "owner" });
  const session = await signIn(rt, person.email, person.password, "1.1.1.1");
  cookie = session.ok ? `zahlung=${session.token}` : "";
  for (const id of ["one", "many"]) await addStorefront(rt, "ida", { ...north, id, name: id });
  const versions = await currentVersions(rt);
  const connect = async (storefrontId: string, which: typeof versions) => {
    for (const { profile } of which) {
      const id = await addConnection(rt, "ida", { profile, storefrontId });
      for (const method of profile.methods) {
        const { storefront, connections } = await mustStand(rt, storefrontId);
        const where = connections.find((one) => one.connection.id === id);
        if (where) await addOffer(rt, "ida", where, storefront, method.id, { inPlace: true });
      }
    }
  };
  await connect("one", versions.slice(0, 1));
  await connect("many", [...versions, ...versions].slice(0, 10));
  const { client } = rt.db;
  const [execute, batch] = [client.execute.bind(client), client.batch.bind(client)];
  client.execute = ((one: never) => (statements++, execute(one))) as typeof client.execute;
  client.batch = ((list: never[], mode: never) => (
    (statements += list.length),
    batch(list, mode)
  )) as typeof client.batch;
});
afterAll(() => world.close());

type Load = (args: never) => Promise<unknown>;

/** Statements of a page and of the frames around it, as one request asks them. */
async function asked(
  storefront: string,
  page: { loader: unknown },
  path: string,
  params = {},
): Promise<number> {
  const context = new RouterContextProvider();
  const request = new Request(`http://localhost/s/${storefront}${path}`, { headers: { cookie } });
  context.set(runtimeContext, world.rt);
  context.set(personContext, { id: "x", ...person, role: "owner" });
  context.set(standsContext, new Map());
  const args = { request, context, params: { storefront, ...params } };
  const before = statements;
  const loaders = [signedIn.loader, frame.loader, page.loader] as Load[];
  await Promise.all(loaders.map((load) => load(args as never)));
  return statements - before;
}

const pages: [string, { loader: unknown }, string][] = [
  ["home", home, ""],
  ["payments", payments, "/operate"],
  ["payments that are searched for", payments, "/operate?q=LW-1"],
  ["webhooks", webhooks, "/operate/webhooks"],
  ["exchanges", exchanges, "/exchanges"],
  ["rehearse", board, "/rehearse"],
  ["cut over", cutOver, "/cut-over"],
  ["the shop's side", shop, "/shop"],
  ["plan", plan, "/plan"],
];

it.each(pages)(
  `%s asks at most ${MOST} statements, with ten connections as with one`,
  async (_, page, path) => {
    await asked("one", page, path);
    const one = await asked("one", page, path);
    await asked("many", page, path);
    const many = await asked("many", page, path);
    expect(many).toBeLessThanOrEqual(MOST);
    expect(many).toBeLessThanOrEqual(one + 1);
  },
);

it("an offer's page asks no more", async () => {
  const [one] = await offersOf(world.rt, "many");
  const params = { offer: one?.offer.id ?? "" };
  await asked("many", offer, `/offer/${params.offer}`, params);
  expect(await asked("many", offer, `/offer/${params.offer}`, params)).toBeLessThanOrEqual(MOST);
});

it("the handshake, two columns that are each read apart, asks little more", async () => {
  const { connections } = await mustStand(world.rt, "many");
  const params = { connection: connections[0]?.connection.id ?? "" };
  await asked("many", handshake, `/connect/${params.connection}`, params);
  expect(await asked("many", handshake, `/connect/${params.connection}`, params)).toBeLessThanOrEqual(
    MOST + 4,
  );
});

it("what nothing has changed for is not read again", async () => {
  await asked("many", home, "");
  const kept = await asked("many", home, "");
  const { rows } = await world.rt.db.client.execute("select version from standing_version");
  await addStorefront(world.rt, "ida", { ...north, id: `later-${String(rows[0]?.version)}`, name: "Later" });
  expect(await asked("many", home, "")).toBeGreaterThan(kept);
});

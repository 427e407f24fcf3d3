import type { RouteConfigEntry } from "@react-router/dev/routes";
import fc from "fast-check";
import { matchRoutes, type RouteObject, type ServerBuild } from "react-router";
import { expect, it, vi } from "vitest";
import config from "./routes";
import { forRoutesOfPath, routesOfPaths } from "./routes-of-path";

type Routes = ServerBuild["routes"];

/** The routes as a build lists them: flat, each with its parent. */
function listed(entries: readonly RouteConfigEntry[], parentId?: string, all: Routes = {}): Routes {
  for (const { file, path, index, children } of entries) {
    all[file] = { id: file, parentId, path, index, module: {} as never };
    listed(children ?? [], file, all);
  }
  return all;
}
const routes: Routes = {
  root: { id: "root", path: "", module: {} as never },
  ...listed(config as RouteConfigEntry[], "root"),
};

const tree = (of: Routes, parentId?: string): RouteObject[] =>
  Object.values(of)
    .flatMap((one) => (one?.parentId === parentId && one ? [one] : []))
    .map(({ id, path, index }) =>
      index ? { id, path, index } : { id, path, index: false as const, children: tree(of, id) },
    );
const matched = (of: Routes, path: string) => matchRoutes(tree(of), path)?.map(({ route }) => route.id);
const some = (ids: readonly string[]): Routes =>
  Object.fromEntries(ids.map((id) => [id, routes[id]])) as Routes;

const words = Object.values(routes).flatMap((one) => one?.path?.split("/") ?? []);
const segment = fc.oneof(
  { weight: 6, arbitrary: fc.constantFrom(...words.filter((one) => one && one !== "*")) },
  fc.constantFrom(
    "s",
    "pay_1",
    "Operate",
    "OFFER",
    "%6fperate",
    "a%2Fb",
    "%",
    "..",
    "",
    "kleine-fische",
    "ÄÖ",
  ),
);
const paths = fc.oneof(
  { weight: 3, arbitrary: fc.array(segment, { maxLength: 3 }).map((rest) => ["s", "x", ...rest]) },
  fc.array(segment, { maxLength: 6 }),
);

it("matches among the routes of a path what is matched among all of them", () => {
  const idsOf = routesOfPaths(routes);
  fc.assert(
    fc.property(paths, fc.constantFrom("", "/"), (segments, end) => {
      const path = `/${segments.join("/")}${end}`;
      expect(matched(some(idsOf(path)), path)).toEqual(matched(routes, path));
    }),
    { numRuns: 500 },
  );
});

it("keeps few routes, and the pages above one", () => {
  const idsOf = routesOfPaths(routes);
  expect(idsOf("/s/luvwinkel-de/operate/pay_1")).toEqual([
    ...["root", "frame/signed-in.tsx", "home/first-storefront.ts", "frame/storefront.tsx", "home/home.tsx"],
    ...["payments/payments.tsx", "payments/payment.tsx", "frame/not-found.tsx"],
  ]);
  expect(idsOf("/pay/abc")).toEqual([
    "root",
    "checkouts/pay.tsx",
    "frame/signed-in.tsx",
    "home/first-storefront.ts",
    "frame/not-found.tsx",
  ]);
});

it("makes one thing for each set of routes, of pages and of their data alike, and asks all of them about routes", () => {
  const assets = { routes: Object.fromEntries(Object.keys(routes).map((id) => [id, { id }])) };
  const make = vi.fn((build: ServerBuild) => Object.keys(build.routes).length);
  const madeFor = forRoutesOfPath({ routes, assets } as unknown as ServerBuild, make);
  const whole = Object.keys(routes).length;
  expect(madeFor("/__manifest")).toBe(whole);
  for (const path of ["/s/a/operate", "/s/b/operate", "/s/b/operate.data", "/s/b/operate/_.data"])
    expect(madeFor(path)).toBeLessThan(10);
  expect(madeFor("/_root.data")).toBeLessThan(6);
  expect(make).toHaveBeenCalledTimes(3);
  for (const [build] of make.mock.calls)
    expect(Object.keys(build.assets.routes)).toEqual(Object.keys(build.routes));
});

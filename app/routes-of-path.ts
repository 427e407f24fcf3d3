import type { ServerBuild } from "react-router";

type Routes = ServerBuild["routes"];
interface Pattern {
  id: string;
  segments: readonly string[];
  ancestors: readonly string[];
}

/**
 * For paths, the routes that can have to do with them: those whose pattern is the path or a beginning of it, with their
 * parents. What matches a path among these is what matches it among all of them. The framework builds each route that it
 * knows anew for every page, so a page is made with few of them.
 */
export function routesOfPaths(routes: Routes): (path: string) => string[] {
  const patterns = Object.values(routes).flatMap((route): Pattern[] => {
    // A layout without a path of its own comes with what stands in it.
    if (!route || (route.path === undefined && !route.index)) return [];
    const chain = [route];
    for (let { parentId } = route; parentId;) {
      const parent = routes[parentId];
      if (!parent) break;
      chain.unshift(parent);
      ({ parentId } = parent);
    }
    const path = chain.map((one) => one.path ?? "").join("/");
    return [
      {
        id: route.id,
        segments: path.toLowerCase().split("/").filter(Boolean),
        ancestors: chain.slice(0, -1).map(({ id }) => id),
      },
    ];
  });
  return (path) => {
    const given = path
      .split("/")
      .filter(Boolean)
      .map((segment) => decoded(segment).toLowerCase());
    const kept = new Set<string>();
    for (const { id, segments, ancestors } of patterns)
      if (begins(segments, given)) for (const one of [...ancestors, id]) kept.add(one);
    return Object.keys(routes).filter((id) => kept.has(id));
  };
}

/** Whether a pattern may be a path or a beginning of it. What is optional in a pattern counts as may be. */
function begins(pattern: readonly string[], path: readonly string[]): boolean {
  if (pattern.some((segment) => segment.endsWith("?"))) return true;
  if (pattern.at(-1) !== "*" && pattern.length > path.length) return false;
  return pattern.every((segment, at) => segment === "*" || segment.startsWith(":") || segment === path[at]);
}

function decoded(segment: string): string {
  try {
    return decodeURIComponent(segment);
  } catch {
    return segment;
  }
}

/** The path of the page that a request for its data alone is about. */
const pageOf = (path: string): string => path.replace(/(\/_|\/_root)?\.data$/, "");

/** A build with no more than some of its routes. */
const withRoutes = (build: ServerBuild, ids: readonly string[]): ServerBuild => ({
  ...build,
  routes: pick(build.routes, ids),
  assets: { ...build.assets, routes: pick(build.assets.routes, ids) },
});

const pick = <One>(all: Record<string, One>, ids: readonly string[]): Record<string, One> =>
  Object.fromEntries(
    ids.flatMap((id) => {
      const one = all[id];
      return one === undefined ? [] : [[id, one]];
    }),
  );

/** For a path, what `make` has made of the build with the routes of that path: once for each set of routes. */
export function forRoutesOfPath<Made>(
  build: ServerBuild,
  make: (build: ServerBuild) => Made,
): (path: string) => Made {
  const idsOf = routesOfPaths(build.routes);
  const whole = make(build);
  const made = new Map<string, Made>();
  return (path) => {
    // What the browser asks about routes is answered out of all of them.
    if (path === "/__manifest") return whole;
    const ids = idsOf(pageOf(path));
    const key = ids.join();
    const known = made.get(key) ?? make(withRoutes(build, ids));
    made.set(key, known);
    return known;
  };
}

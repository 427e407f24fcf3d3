import { and, eq } from "drizzle-orm";
import { isConflict } from "../database/guard";
import { savedViews, type viewedLists } from "../database/schema";
import type { Runtime } from "../runtime";

const MOST = 30;
const kept = [
  "mode",
  "q",
  "state",
  "connection",
  "offer",
  "with",
  "amount",
  "from",
  "to",
  "sort",
  "columns",
  "rehearsals",
  "archived",
];

/** What of an address narrows a list, as it is kept; its page is not. */
export function viewQuery(search: string): string {
  const asked = new URLSearchParams(search);
  const query = new URLSearchParams();
  for (const name of kept) {
    const value = asked.get(name);
    if (value) query.set(name, value.slice(0, 200));
  }
  return query.toString();
}

export type ViewedList = (typeof viewedLists)[number];

/** What people of a storefront come back to of a list, by name. */
export const viewsOf = (rt: Runtime, storefrontId: string, list: ViewedList) =>
  rt.db.orm
    .select()
    .from(savedViews)
    .where(and(eq(savedViews.storefrontId, storefrontId), eq(savedViews.list, list)))
    .orderBy(savedViews.name)
    .limit(MOST);

/** Keeps a list under a name; under a name that is there already it takes the other's place. */
export async function saveView(
  rt: Runtime,
  person: string,
  storefrontId: string,
  list: ViewedList,
  { name, query }: { name: string; query: string },
): Promise<"saved" | "no-name" | "too-many"> {
  const called = name.trim().slice(0, 60);
  if (called === "") return "no-name";
  const views = await viewsOf(rt, storefrontId, list);
  if (views.length >= MOST && !views.some((one) => one.name === called)) return "too-many";
  const row = { id: rt.ids.next("viw"), storefrontId, list, name: called, query, person, at: rt.now() };
  const write = () =>
    rt.db.write([
      rt.db.orm
        .delete(savedViews)
        .where(
          and(
            eq(savedViews.storefrontId, storefrontId),
            eq(savedViews.list, list),
            eq(savedViews.name, called),
          ),
        ),
      rt.db.orm.insert(savedViews).values(row),
    ]);
  try {
    await write();
  } catch (error) {
    if (!isConflict(error)) throw error;
    await write();
  }
  return "saved";
}

export const forgetView = (rt: Runtime, storefrontId: string, id: string) =>
  rt.db.write([
    rt.db.orm.delete(savedViews).where(and(eq(savedViews.storefrontId, storefrontId), eq(savedViews.id, id))),
  ]);

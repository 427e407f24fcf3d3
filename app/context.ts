import type { PageHosts } from "#server/profiles/profiles";
import { createContext, type RouterContextProvider } from "react-router";
import type { Person } from "#server/people/people";
import type { Runtime } from "#server/runtime";

/** What every loader and action finds in its context. */
export const runtimeContext = createContext<Runtime>();
export const nonceContext = createContext<string>("");
export const pageHostsContext = createContext<PageHosts>({ frames: [], forms: [] });
/** The whole text of a page, once it is rendered; it is sent as it stands. */
export const pageContext = createContext<string | null>(null);
export const personContext = createContext<Person>();

export type Context = Readonly<RouterContextProvider>;

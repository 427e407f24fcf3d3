import type { Route } from "./+types/interlocking";

/** One connection as the interlocking shows it: its gates, changes, history and first live payment. */
export type ConnectionView = Route.ComponentProps["loaderData"]["connections"][number];

/** A snapshot that is looked at. */
export type Looked = NonNullable<Route.ComponentProps["loaderData"]["looked"]>;

/** What goes live without a connection. */
export type Without = Route.ComponentProps["loaderData"]["without"];

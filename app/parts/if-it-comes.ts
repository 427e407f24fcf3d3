import { type ComponentType, lazy, type LazyExoticComponent } from "react";

const Nothing = () => null;

/** A part that a page can do without: where it does not come, for want of a connection, the page goes on as it is. */
export const ifItComes = <P extends object>(
  load: () => Promise<{ default: ComponentType<P> }>,
): LazyExoticComponent<ComponentType<P>> => lazy(() => load().catch(() => ({ default: Nothing })));

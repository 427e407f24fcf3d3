import { lookup, type LookupAddress } from "node:dns";
import type { LookupFunction } from "node:net";
import { Agent, fetch as fetchThrough } from "undici";
import type { Settings } from "../settings";
import { isPrivate } from "./addresses";

type Resolve = (host: string, done: (error: Error | null, found: LookupAddress[]) => void) => void;

const resolve: Resolve = (host, done) => lookup(host, { all: true }, done);

/**
 * A `fetch` for addresses that profiles and shops supply. `addressRefused` says beforehand and in words what is
 * not called; this holds to it at the socket, where a name cannot lead elsewhere any more than it was looked up to.
 * The operator's own origin is exempt: a rehearsal calls it. `find` stands in for the name service in tests.
 */
export function guardedFetch(settings: Settings, find: Resolve = resolve): typeof fetch {
  const own = new URL(settings.origin).hostname;
  const guarded: LookupFunction = (host, options, done) => {
    find(host, (error, found) => {
      const [first] = found ?? [];
      if (error || !first) return done(error ?? new Error(`${host} has no address`), []);
      const inside = found.some((one) => isPrivate(one.address));
      if (inside && host !== own && !settings.allowPrivateAddresses)
        return done(new Error(`${host} leads into a private network`), []);
      if (options.all) done(null, found);
      else done(null, first.address, first.family);
    });
  };
  const dispatcher = new Agent({ connect: { lookup: guarded } });
  return ((input: string, init?: object) =>
    fetchThrough(input, { ...init, dispatcher })) as unknown as typeof fetch;
}

import type { JSONWebKeySet } from "jose";
import type { AccessToken, Granted } from "../wire/token";

/** Access tokens and published keys of providers, kept in the process that fetched them. A member of the runtime. */
export class Pocket {
  readonly tokens = new Map<string, AccessToken>();
  readonly fetching = new Map<string, Promise<Granted>>();
  readonly sets = new Map<string, { at: number; set: JSONWebKeySet }>();
  readonly asking = new Map<string, Promise<JSONWebKeySet | null>>();
}

import type { Spoken } from "../../app/words/speak";
import { spoken } from "../../scripts/english";
import type { Mode } from "#core/mode";
import {
  addConnection,
  type ConnectionWithProfile,
  connectionOf,
  currentEndpoint,
  endpointAddress,
} from "#server/connections/connections";
import { type Column, columnOf } from "#server/connections/handshake";
import { enterKeys } from "#server/connections/keys";
import { profileOf } from "#server/profiles/profiles";
import type { Storefront } from "#server/database/rows";
import { storefrontOf } from "#server/storefronts/storefronts";
import { type AtDashboard, atDashboard, keysAt } from "../../demo/dashboards";
import { openWorld, type SystemWorld, type WorldOptions } from "./world";

export const must = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error("missing");
  return value;
};

/** A world in which accounts at the providers are connected with what their dashboards show. */
export class AtProviders {
  /** Provider and account → connection, since an account is connected once. */
  #made = new Map<string, string>();

  private constructor(readonly world: SystemWorld) {}

  static open = async (options: WorldOptions = {}) => new AtProviders(await openWorld(options));

  storefront = async (): Promise<Storefront> => must(await storefrontOf(this.world.rt, "luvwinkel-de"));
  where = async (id: string): Promise<ConnectionWithProfile> => must(await connectionOf(this.world.rt, id));
  column = async (id: string, mode: Mode = "test"): Promise<Spoken<Column>> =>
    spoken(await columnOf(this.world.rt, await this.where(id), await this.storefront(), mode));

  /** Connects an account with the keys its dashboard shows. */
  connected = async (
    provider: string,
    mode: Mode = "test",
    account?: string,
  ): Promise<{ id: string; desk: AtDashboard; keys: Record<string, string> }> => {
    const { rt, standins } = this.world;
    const desk = await atDashboard(standins, provider);
    const name = `${provider} ${account ?? ""}`;
    const profile = must(await profileOf(rt, provider));
    const id =
      this.#made.get(name) ?? (await addConnection(rt, "ida", { profile, storefrontId: "luvwinkel-de" }));
    this.#made.set(name, id);
    const keys = await keysAt(desk, mode === "test" ? "sandbox" : "live", account);
    await enterKeys(rt, "ida", await this.where(id), mode, keys);
    return { id, desk, keys };
  };

  heard = async (id: string, mode: Mode = "test") => (await currentEndpoint(this.world.rt, id, mode)).heardAt;
  webhookOf = async (id: string) =>
    endpointAddress(this.world.rt, await currentEndpoint(this.world.rt, id, "test"));
}

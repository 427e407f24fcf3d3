import { inArray } from "drizzle-orm";
import type { Profile } from "#core/profiles/profile";
import type { Orm } from "../database/open";
import { profileVersions } from "../database/schema";

/** One version of a profile. Its document never changes. */
export interface ProfileVersion {
  id: string;
  profileId: string;
  number: number;
  /** As the document calls itself, told apart from an earlier one of the same name. */
  version: string;
  source: "shipped" | "file";
  installedAt: number;
  profile: Profile;
}

/** Profile versions by id: read and parsed once for each, since a version never changes. */
export class Library {
  readonly #known = new Map<string, ProfileVersion>();

  constructor(readonly orm: Orm) {}

  /** Versions by id. Throws for an id that is none: what pins a version keeps it in the database. */
  async all(ids: readonly string[]): Promise<ProfileVersion[]> {
    const missing = [...new Set(ids)].filter((id) => !this.#known.has(id));
    if (missing.length > 0) {
      const rows = await this.orm.select().from(profileVersions).where(inArray(profileVersions.id, missing));
      for (const { document, ...row } of rows) this.#known.set(row.id, { ...row, profile: document });
    }
    return ids.map((id) => {
      const found = this.#known.get(id);
      if (!found) throw new Error(`there is no profile version ${id}`);
      return found;
    });
  }

  async version(id: string): Promise<ProfileVersion> {
    const known = this.#known.get(id);
    if (known) return known;
    const [found] = await this.all([id]);
    return found as ProfileVersion;
  }
}

import { createHash } from "node:crypto";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";

/** The script that shops put on their pages, and what a page needs to say of it. */
export interface EmbedScript {
  bytes: Buffer;
  /** Its path, which changes with it. */
  path: string;
  /** Subresource Integrity. */
  integrity: string;
}

/** Reads the script. Throws where the application was installed without it. */
export function readEmbedScript(root: string): EmbedScript {
  const files = ["build/client/embed/v1.js", "public/embed/v1.js"].map((one) => join(root, one));
  const file = files.find((one) => existsSync(one)) ?? "";
  const bytes = readFileSync(file);
  const digest = createHash("sha384").update(bytes).digest();
  return {
    bytes,
    path: `/embed/v1.js?is=${digest.subarray(0, 9).toString("base64url")}`,
    integrity: `sha384-${digest.toString("base64")}`,
  };
}

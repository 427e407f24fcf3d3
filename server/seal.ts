import { createCipheriv, createDecipheriv, createHmac, randomBytes } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";

/** Seals secrets at rest with AES-256-GCM. What is sealed for one purpose cannot be opened for another. */
export interface Seal {
  close(text: string, purpose: string): string;
  /** Throws when the text was sealed with another key, for another purpose, or was changed. */
  open(sealed: string, purpose: string): string;
  /** An unguessable text of 43 letters that follows from the key and a purpose: the same in every process. */
  derive(purpose: string): string;
}

const VERSION = "s1";

export function sealWith(masterKey: Buffer): Seal {
  if (masterKey.length !== 32) throw new RangeError("the master key must be 32 bytes");
  return {
    close(text, purpose) {
      const nonce = randomBytes(12);
      const cipher = createCipheriv("aes-256-gcm", masterKey, nonce).setAAD(Buffer.from(purpose));
      const body = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
      return [VERSION, nonce, body, cipher.getAuthTag()]
        .map((part) => (typeof part === "string" ? part : part.toString("base64url")))
        .join(".");
    },
    open(sealed, purpose) {
      const [version, nonce = "", body = "", tag = ""] = sealed.split(".");
      if (version !== VERSION) throw new Error("sealed by another version");
      const decipher = createDecipheriv("aes-256-gcm", masterKey, Buffer.from(nonce, "base64url"))
        .setAAD(Buffer.from(purpose))
        .setAuthTag(Buffer.from(tag, "base64url"));
      return Buffer.concat([decipher.update(Buffer.from(body, "base64url")), decipher.final()]).toString(
        "utf8",
      );
    },
    derive: (purpose) => createHmac("sha256", masterKey).update(purpose).digest("base64url"),
  };
}

/** Reads the master key from a file that only its owner may read, or makes one. */
export function masterKeyFile(file: string): Buffer {
  if (!existsSync(file)) {
    writeFileSync(file, randomBytes(32).toString("base64") + "\n", { mode: 0o600, flag: "wx" });
  }
  return Buffer.from(readFileSync(file, "utf8").trim(), "base64");
}

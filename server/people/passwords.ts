import { type Said, said } from "#core/said";
import { randomBytes, scrypt, timingSafeEqual } from "node:crypto";

const COST = { N: 2 ** 15, r: 8, p: 3, maxmem: 96 * 1024 * 1024 };

const derive = (password: string, salt: Buffer) =>
  new Promise<Buffer>((resolve, reject) =>
    scrypt(password.normalize("NFKC"), salt, 32, COST, (error, key) =>
      error ? reject(error) : resolve(key),
    ),
  );

/** scrypt with 32 MiB of memory (OWASP's figures), as `scrypt$salt$key`. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt$${salt.toString("base64url")}$${(await derive(password, salt)).toString("base64url")}`;
}

export async function passwordFits(password: string, hash: string): Promise<boolean> {
  const [, salt = "", key = ""] = hash.split("$");
  const expected = Buffer.from(key, "base64url");
  const given = await derive(password, Buffer.from(salt, "base64url"));
  return expected.length === given.length && timingSafeEqual(expected, given);
}

/** What is wrong with a new password, or undefined. Length is what counts (NIST SP 800-63B). */
export function passwordProblem(password: string): Said | undefined {
  if (password.length < 12) return said("passwords.least-12-characters-needed");
  if (password.length > 200) return said("passwords.most-200-characters-possible");
  if (new Set(password).size < 5) return said("passwords.needs-least-five-different");
  return undefined;
}

import { createHash } from "node:crypto";
import { type FileKind, fileName, kindOfFile } from "#core/files";
import { said, type Told } from "#core/said";

/** How many files go with an answer, and how large all of them may be together, bytes. */
const MOST_FILES = 5;
const LARGEST = 5_000_000;

/** A file that speaks for the shop. */
export interface EvidenceFile {
  name: string;
  type: FileKind;
  /** Its bytes in base64. */
  content: string;
  /** SHA-256 of its bytes, in hexadecimal, for the audit trail. */
  digest: string;
}

export type Evidence = { ok: true; files: EvidenceFile[] } | { ok: false; says: Told };

/** Reads files that were handed in: PDF, PNG and JPEG by their content, few and not too large. */
export async function readEvidence(given: readonly File[]): Promise<Evidence> {
  const handed = given.filter(({ size }) => size > 0);
  if (handed.length > MOST_FILES) return { ok: false, says: said("evidence.too-many", { most: MOST_FILES }) };
  if (handed.reduce((sum, { size }) => sum + size, 0) > LARGEST)
    return { ok: false, says: said("evidence.too-large", { most: LARGEST / 1_000_000 }) };
  const files: EvidenceFile[] = [];
  for (const file of handed) {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const type = kindOfFile(bytes);
    const name = fileName(file.name);
    if (!type) return { ok: false, says: said("evidence.of-no-kind", { name }) };
    const digest = createHash("sha256").update(bytes).digest("hex");
    files.push({ name, type, content: Buffer.from(bytes).toString("base64"), digest });
  }
  return { ok: true, files };
}

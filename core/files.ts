/** What files people hand in may be: their media types. */
export const fileKinds = ["application/pdf", "image/png", "image/jpeg"] as const;
export type FileKind = (typeof fileKinds)[number];

const beginnings: Record<FileKind, readonly number[]> = {
  "application/pdf": [0x25, 0x50, 0x44, 0x46, 0x2d],
  "image/png": [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a],
  "image/jpeg": [0xff, 0xd8, 0xff],
};

/** What a file is by its first bytes, whatever it is called; null: none of what is taken. */
export const kindOfFile = (bytes: Uint8Array): FileKind | null =>
  fileKinds.find((kind) => beginnings[kind].every((byte, i) => bytes[i] === byte)) ?? null;

/** A file's name as it may be handed on: no path, no control characters, 100 letters at most. */
export const fileName = (name: string): string =>
  (name.split(/[/\\]/).at(-1) ?? "").replace(/[^\p{L}\p{N}\p{P}\p{S} ]/gu, "").slice(-100) || "file";

import { eq } from "drizzle-orm";
import { createHash } from "node:crypto";
import sharp from "sharp";
import type { PictureRef } from "#core/looks/look";
import { said, type Told } from "#core/said";
import { pictures } from "../database/schema";
import type { Runtime } from "../runtime";

/** How large a picture may be that is handed in, bytes; and the box that it is drawn into, pixels. */
const LARGEST = 1_000_000;
const BOX = { width: 480, height: 160 };
const MOST_PIXELS = 25_000_000;
const PATIENCE_SECONDS = 5;
const KINDS = new Set(["png", "jpeg", "webp", "svg"]);

export type PictureKept = { ok: true; picture: PictureRef } | { ok: false; says: Told };

/**
 * Keeps a picture: PNG, JPEG, WebP or SVG by its content, drawn anew as a PNG within 480 × 160 pixels, so that nothing of
 * what was handed in is served: no script, no reference, no data about who took it and where.
 */
export async function keepPicture(rt: Runtime, file: File): Promise<PictureKept> {
  if (file.size > LARGEST)
    return { ok: false, says: said("look.picture-too-large", { most: LARGEST / 1_000_000 }) };
  const drawn = await draw(Buffer.from(await file.arrayBuffer()));
  if (!drawn) return { ok: false, says: said("look.no-picture") };
  const { data: bytes, info } = drawn;
  const { width, height } = info;
  const id = createHash("sha256").update(bytes).digest("hex");
  await rt.db.write([
    rt.db.orm
      .insert(pictures)
      .values({ id, bytes, width, height, createdAt: rt.now() })
      .onConflictDoNothing(),
  ]);
  return { ok: true, picture: { id, width, height } };
}

async function draw(bytes: Buffer) {
  const options = { limitInputPixels: MOST_PIXELS, failOn: "error" } as const;
  try {
    const { format = "", width = 0, height = 0 } = await sharp(bytes, options).metadata();
    if (!KINDS.has(format) || width === 0 || height === 0) return null;
    // A drawing has no pixels of its own: it is drawn as large as it is shown.
    const scale = Math.min(BOX.width / width, BOX.height / height);
    const density = format === "svg" ? Math.min(2_400, Math.max(1, 72 * scale)) : undefined;
    return await sharp(bytes, { ...options, ...(density && { density }) })
      .rotate()
      .resize({ ...BOX, fit: "inside", withoutEnlargement: true })
      .timeout({ seconds: PATIENCE_SECONDS })
      .png()
      .toBuffer({ resolveWithObject: true });
  } catch {
    return null;
  }
}

/** The bytes of a kept picture, PNG; null where there is none of that name. */
export async function pictureOf(rt: Runtime, id: string): Promise<Buffer | null> {
  if (!/^[0-9a-f]{64}$/.test(id)) return null;
  const [row] = await rt.db.orm.select({ bytes: pictures.bytes }).from(pictures).where(eq(pictures.id, id));
  return row ? Buffer.from(row.bytes) : null;
}

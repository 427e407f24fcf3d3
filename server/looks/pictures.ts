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
const KINDS = ["png", "jpeg", "webp", "svg"];

export type PictureKept = { ok: true; picture: PictureRef } | { ok: false; says: Told };

/**
 * Keeps a picture: PNG, JPEG, WebP or SVG by its content, drawn anew as a PNG within 480 × 160 pixels, so that nothing of
 * what was handed in is served: no script, no reference, no data about who took it and where.
 */
export async function keepPicture(rt: Runtime, file: File): Promise<PictureKept> {
  if (file.size > LARGEST)
    return { ok: false, says: said("look.picture-too-large", { most: LARGEST / 1_000_000 }) };
  const made = await drawn(Buffer.from(await file.arrayBuffer()), { kinds: KINDS, box: BOX, as: "png" });
  if (!made) return { ok: false, says: said("look.no-picture") };
  const { data: bytes, info } = made;
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

/** A picture of one of these kinds by its content, drawn anew within a box of pixels; null for what is none. */
export async function drawn(
  bytes: Buffer,
  {
    kinds,
    box,
    as,
  }: { kinds: readonly string[]; box: { width: number; height: number }; as: "png" | "jpeg" },
) {
  const options = { limitInputPixels: MOST_PIXELS, failOn: "error" } as const;
  try {
    const { format = "", width = 0, height = 0 } = await sharp(bytes, options).metadata();
    if (!kinds.includes(format) || width === 0 || height === 0) return null;
    // A drawing has no pixels of its own: it is drawn as large as it is shown.
    const scale = Math.min(box.width / width, box.height / height);
    const density = format === "svg" ? Math.min(2_400, Math.max(1, 72 * scale)) : undefined;
    const picture = sharp(bytes, { ...options, ...(density && { density }) })
      .rotate()
      .resize({ ...box, fit: "inside", withoutEnlargement: true })
      .timeout({ seconds: PATIENCE_SECONDS });
    return await (
      as === "png" ? picture.png() : picture.flatten({ background: "#ffffff" }).jpeg({ quality: 82 })
    ).toBuffer({ resolveWithObject: true });
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

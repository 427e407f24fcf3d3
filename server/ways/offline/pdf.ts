import { PDFDict, PDFDocument, PDFName, PDFRawStream } from "pdf-lib";
import { promisify } from "node:util";
import { inflate } from "node:zlib";

const MOST_PAGES = 20;
/** What one stream, and all of them, may become when they are unpacked; bytes. */
const LARGEST_STREAM = 32_000_000;
const LARGEST_ALL = 96_000_000;
const unpack = promisify<Buffer, { maxOutputLength: number }, Buffer>(inflate);

/** What would run, reach out or tell of whoever made it. */
const UNWANTED = [
  "Metadata",
  "PieceInfo",
  "AA",
  "OpenAction",
  "JS",
  "JavaScript",
  "A",
  "EF",
  "LastModified",
  "Annots",
];

/**
 * A PDF made anew of the pages of another, so that nothing else of it is kept: no data about who made it, no scripts, no
 * links, no attached files. Null for what is no PDF, is locked, has more than 20 pages, or unpacks to more than it should.
 */
export async function cleanPdf(bytes: Buffer): Promise<Buffer | null> {
  if (bytes.subarray(0, 5).toString("latin1") !== "%PDF-" || !(await unpacksWell(bytes))) return null;
  try {
    const source = await PDFDocument.load(bytes, { updateMetadata: false, throwOnInvalidObject: true });
    if (source.getPageCount() === 0 || source.getPageCount() > MOST_PAGES) return null;
    for (const [, object] of source.context.enumerateIndirectObjects()) {
      const dict = object instanceof PDFDict ? object : object instanceof PDFRawStream ? object.dict : null;
      for (const name of UNWANTED) dict?.delete(PDFName.of(name));
      if (object instanceof PDFRawStream && isPhoto(object))
        Object.assign(object, { contents: withoutNotes(object.contents) });
    }
    const clean = await PDFDocument.create({ updateMetadata: false });
    for (const page of await clean.copyPages(source, source.getPageIndices())) clean.addPage(page);
    return Buffer.from(await clean.save());
  } catch {
    return null;
  }
}

/** Whether all that is packed in it unpacks to no more than it may, whatever it says of itself. */
async function unpacksWell(bytes: Buffer): Promise<boolean> {
  // Names may be written in numbers: /#4cZWDecode.
  const text = bytes
    .toString("latin1")
    .replace(/#([0-9a-f]{2})/gi, (_, code: string) => String.fromCharCode(parseInt(code, 16)));
  if (/\/LZW|\/Fl(?:ateDecode)?\s*\/Fl/.test(text)) return false;
  let left = LARGEST_ALL;
  for (let at = bytes.indexOf("stream"); at >= 0; at = bytes.indexOf("stream", at + 6)) {
    let start = at + 6;
    while (bytes[start] === 0x0d || bytes[start] === 0x0a) start++;
    // What begins like packed data, as zlib writes it (RFC 1950).
    if ((bytes[start] ?? 0) % 16 !== 8) continue;
    const end = bytes.indexOf("endstream", start);
    try {
      const most = Math.min(LARGEST_STREAM, left);
      left -= (await unpack(bytes.subarray(start, end < 0 ? undefined : end), { maxOutputLength: most }))
        .length;
      if (left <= 0) return false;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ERR_BUFFER_TOO_LARGE") return false;
    }
  }
  return true;
}

const isPhoto = ({ dict }: PDFRawStream) =>
  String(dict.get(PDFName.of("Filter")) ?? "").includes("DCTDecode");

/** A JPEG without its application segments but the one that says how colours are kept (Adobe's), and without comments. */
function withoutNotes(jpeg: Uint8Array): Uint8Array {
  const kept: Uint8Array[] = [];
  if (jpeg[0] !== 0xff || jpeg[1] !== 0xd8) return jpeg;
  kept.push(jpeg.subarray(0, 2));
  let at = 2;
  while (jpeg[at] === 0xff && at + 4 <= jpeg.length) {
    const marker = jpeg[at + 1] ?? 0;
    if (marker === 0xda) break;
    const end = at + 2 + ((jpeg[at + 2] ?? 0) << 8) + (jpeg[at + 3] ?? 0);
    const isNote = (marker >= 0xe1 && marker <= 0xef && marker !== 0xee) || marker === 0xfe;
    if (!isNote) kept.push(jpeg.subarray(at, end));
    at = end;
  }
  kept.push(jpeg.subarray(at));
  return Buffer.concat(kept);
}

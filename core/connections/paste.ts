import type { Mode } from "../mode";
import type { Profile, ProfileField } from "../profiles/profile";
import { checkForm } from "./form";

/**
 * Reads what was copied, a whole page perhaps, for both columns at once: what has the form of only one column's value goes
 * there. Column → field id → text.
 */
export function readPage(profile: Profile, text: string): Record<Mode, Record<string, string>> {
  const [test, live] = (["test", "live"] as const).map((mode) => readPaste(profile, mode, text).fields);
  const only = (mine: Record<string, string> = {}, others: Record<string, string> = {}) =>
    Object.fromEntries(Object.entries(mine).filter(([id, value]) => others[id] !== value));
  return { test: only(test, live), live: only(live, test) };
}

export interface PasteReading {
  /** Field id → the text that was taken for it. */
  fields: Record<string, string>;
  /** Names or beginnings of what fitted nowhere. */
  left: string[];
}

interface Piece {
  name: string | null;
  value: string;
}

const LONGEST = 20_000;
const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, "");

/**
 * Takes several values apart that were copied at once: lines such as `Server key: …` or `SERVER_KEY=…`, values one
 * below the other, or a JSON snippet. A value goes to the field whose pattern it fits; where it fits several, its
 * name decides.
 */
export function readPaste(profile: Profile, mode: Mode, text: string): PasteReading {
  const fields: Record<string, string> = {};
  const left: string[] = [];
  for (const line of piecesOf(text.slice(0, LONGEST))) {
    const found = line.flatMap((piece) => {
      const field = fieldFor(profile, mode, piece, fields);
      return field ? [{ field, piece }] : [];
    })[0];
    if (found) fields[found.field.id] = found.piece.value;
    else left.push(line[0]?.name ?? `${line[0]?.value.slice(0, 8) ?? ""}…`);
  }
  return { fields, left };
}

function fieldFor(
  profile: Profile,
  mode: Mode,
  { name, value }: Piece,
  taken: Readonly<Record<string, string>>,
): ProfileField | undefined {
  const free = profile.fields.filter((field) => taken[field.id] === undefined);
  const fitting = free.filter((field) => checkForm(profile, field, mode, value).ok);
  const named = (list: ProfileField[]) =>
    name === null
      ? undefined
      : list.find((field) => [field.id, field.label].some((one) => plain(one) === plain(name)));
  return named(fitting) ?? fitting[0];
}

/** Each value with its name; where it may be read in two ways, both. */
function piecesOf(text: string): Piece[][] {
  const trimmed = text.trim();
  if (/^[{[]/.test(trimmed)) {
    try {
      return flat(JSON.parse(trimmed), null).map((piece) => [piece]);
    } catch {
      // Not JSON after all: its lines are read.
    }
  }
  return trimmed.split(/\r?\n|\t|;/).flatMap((line) => {
    const bare = line.trim().replace(/,$/, "");
    if (bare === "") return [];
    const [, name, value] = /^["']?([\p{L}][\p{L}\p{N} _.-]{0,60}?)["']?\s*[:=]\s*(\S.*)$/u.exec(bare) ?? [];
    const whole = unquoted(bare);
    const alone = whole.split(/\s+/).map((one): Piece => ({ name: null, value: one }));
    if (!name || !value) return alone.map((piece) => [piece]);
    // What looks like a pair may be one value that holds a colon or an equals sign; its name then fits no field. And a
    // value may stand among other words, as on the page of a dashboard.
    const among = value.split(/\s+/).map((one): Piece => ({ name: name.trim(), value: unquoted(one) }));
    return [
      [
        { name: name.trim(), value: unquoted(value) },
        ...(among.length > 1 ? among : []),
        ...(alone.length === 1 ? alone : []),
      ],
    ];
  });
}

const unquoted = (text: string) => text.trim().replace(/^(["'`])(.*)\1$/, "$2");

function flat(value: unknown, name: string | null): Piece[] {
  if (typeof value === "string" || typeof value === "number") return [{ name, value: String(value) }];
  if (typeof value !== "object" || value === null) return [];
  return Object.entries(value).flatMap(([key, one]) => flat(one, Array.isArray(value) ? name : key));
}

import { cookieOf, keepCookie } from "./cookie";
import { t } from "../words/pages/everywhere";

const NAME = "zahlung_zone";
const DAY = 86_400_000;

/** What browsers have said, in small letters, and the zone that it is, if any: looked up once, for that takes a while. */
const said = new Map<string, string | null>();
/** There are some six hundred zones; whoever makes up more of them has them looked up again. */
const MOST_SAID = 1_000;

/**
 * The viewer's time zone as the browser said it on an earlier page; null until it has. In whatever letters it comes it is one
 * name, so that what is kept for each zone is never for more than there are.
 */
export function zoneOf(request: Request): string | null {
  const name = cookieOf(request, NAME);
  if (!name) return null;
  const key = name.toLowerCase();
  const known = said.get(key);
  if (known !== undefined) return known;
  const zone = zoneNamed(name);
  if (said.size >= MOST_SAID) said.clear();
  said.set(key, zone);
  return zone;
}

function zoneNamed(name: string): string | null {
  try {
    const { timeZone } = new Intl.DateTimeFormat("en", { timeZone: name }).resolvedOptions();
    return timeZone.toLowerCase() === name.toLowerCase() ? timeZone : name;
  } catch {
    return null;
  }
}

/** Called in the browser: tells later pages the viewer's zone, so that they come with its times in place. */
export function rememberZone(known: string | null): void {
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  if (timeZone !== known) keepCookie(NAME, timeZone);
}

const MONTHS = t("months").split(" ");

/** Formatters of one kind by zone, each made once: making one takes far longer than using it. */
function formatters(locale: string, options: Intl.DateTimeFormatOptions) {
  const made = new Map<string | undefined, Intl.DateTimeFormat>();
  return (timeZone: string | undefined): Intl.DateTimeFormat => {
    const formatter = made.get(timeZone) ?? new Intl.DateTimeFormat(locale, { ...options, timeZone });
    made.set(timeZone, formatter);
    return formatter;
  };
}
const momentsIn = formatters("en-GB", {
  day: "numeric",
  month: "numeric",
  year: "numeric",
  hour: "2-digit",
  minute: "2-digit",
  hourCycle: "h23",
});
const clockIn = formatters("en-GB", {
  hour: "2-digit",
  minute: "2-digit",
  second: "2-digit",
  hourCycle: "h23",
});
const dateIn = formatters("en-CA", { dateStyle: "short" });

/** A moment that lies further away than this is told with its year. */
const HALF_A_YEAR = 183 * DAY;

/**
 * A moment (milliseconds since the epoch) for people, such as "25 Nov, 08:02", in a zone or in the browser's own; with its
 * year where that is not plain. Server and browser write it alike whatever their locale tables say of months.
 */
export function momentText(at: number, zone?: string, now = Date.now()): string {
  const part = Object.fromEntries(
    momentsIn(zone)
      .formatToParts(at)
      .map(({ type, value }) => [type, value]),
  );
  const year = Math.abs(at - now) > HALF_A_YEAR ? ` ${part.year ?? ""}` : "";
  return `${Number(part.day)} ${MONTHS[Number(part.month) - 1] ?? ""}${year}, ${part.hour ?? ""}:${part.minute ?? ""}`;
}

/** How far into its day a moment is by the clocks of a zone, milliseconds. */
function intoDay(at: number, zone: string): number {
  const parts = clockIn(zone).formatToParts(at);
  const of = (type: string) => Number(parts.find((part) => part.type === type)?.value ?? 0);
  return ((of("hour") * 60 + of("minute")) * 60 + of("second")) * 1_000;
}

/** When the day of a moment began in a zone, milliseconds since the epoch. */
export function dayStart(at: number, zone: string): number {
  const guess = at - intoDay(at, zone) - (at % 1_000);
  // Where clocks were changed in between, it is an hour off, on either side of midnight.
  const off = intoDay(guess, zone);
  return off > DAY / 2 ? guess + DAY - off : guess - off;
}

/** When a day, as "2026-11-25", begins and ends in a zone, milliseconds since the epoch; null for what is no day. */
export function dayIn(text: string, zone: string): { from: number; to: number } | null {
  const noon = Date.parse(`${text}T12:00:00Z`);
  if (!/^\d{4}-\d\d-\d\d$/.test(text) || Number.isNaN(noon)) return null;
  const date = dateIn(zone);
  // Noon of that day in Greenwich is the day before or after in the outermost zones.
  const within = [noon, noon - DAY / 2, noon + DAY / 2].find((at) => date.format(at) === text);
  if (within === undefined) return null;
  const from = dayStart(within, zone);
  return { from, to: dayStart(from + DAY * 1.5, zone) - 1 };
}

/** The day of a moment in a zone, as "2026-11-25". */
export const dayOf = (at: number, zone: string): string =>
  new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" }).format(at);

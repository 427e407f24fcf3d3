const NAME = "zahlung_zone";

/** The viewer's time zone as the browser said it on an earlier page; null until it has. */
export function zoneOf(request: Request): string | null {
  const value = new RegExp(`(?:^|; )${NAME}=([\\w%+-]{1,60})`).exec(request.headers.get("cookie") ?? "")?.[1];
  if (!value) return null;
  try {
    const timeZone = decodeURIComponent(value);
    return new Intl.DateTimeFormat("en", { timeZone }) && timeZone;
  } catch {
    return null;
  }
}

/** Called in the browser: tells later pages the viewer's zone, so that they come with its times in place. */
export function rememberZone(known: string | null): void {
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  if (timeZone !== known)
    document.cookie = `${NAME}=${encodeURIComponent(timeZone)}; Path=/; Max-Age=31536000; SameSite=Lax`;
}

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const formatters = new Map<string | undefined, Intl.DateTimeFormat>();

/**
 * A moment (milliseconds since the epoch) for people, such as "25 Nov, 08:02", in a zone or in the browser's own.
 * Server and browser write it alike whatever their locale tables say of months.
 */
export function momentText(at: number, zone?: string): string {
  let formatter = formatters.get(zone);
  if (!formatter) {
    formatter = new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      day: "numeric",
      month: "numeric",
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
    });
    formatters.set(zone, formatter);
  }
  const part = Object.fromEntries(formatter.formatToParts(at).map(({ type, value }) => [type, value]));
  return `${Number(part.day)} ${MONTHS[Number(part.month) - 1] ?? ""}, ${part.hour ?? ""}:${part.minute ?? ""}`;
}

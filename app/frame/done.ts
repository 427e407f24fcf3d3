/** Carries what was done to the page that follows, once. */
export const DONE_COOKIE = "zahlung_done";

/** Called in the browser: what was done on the page before, if anything; it is said once. */
export function whatWasDone(): string | null {
  const value = new RegExp(`(?:^|; )${DONE_COOKIE}=([^;]*)`).exec(document.cookie)?.[1];
  if (!value) return null;
  document.cookie = `${DONE_COOKIE}=; Path=/; Max-Age=0; SameSite=Lax`;
  try {
    return decodeURIComponent(value);
  } catch {
    return null;
  }
}

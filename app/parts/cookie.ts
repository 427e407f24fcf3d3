const YEAR = 31_536_000;

/** A cookie that this application's own pages set in the browser, as a request brings it; null when there is none. */
export function cookieOf(request: Request, name: string): string | null {
  const value = new RegExp(`(?:^|; )${name}=([\\w%.+-]{1,120})`).exec(
    request.headers.get("cookie") ?? "",
  )?.[1];
  try {
    return value ? decodeURIComponent(value) : null;
  } catch {
    return null;
  }
}

/** Called in the browser: keeps a choice for later pages, or forgets it. */
export function keepCookie(name: string, value: string | null): void {
  document.cookie = `${name}=${encodeURIComponent(value ?? "")}; Path=/; Max-Age=${value === null ? 0 : YEAR}; SameSite=Lax`;
}

import { cookieOf, keepCookie } from "../parts/cookie";

export type Theme = "light" | "dark";

const NAME = "zahlung_theme";

/** The theme a person chose, from the cookie; null: as the system says. */
export function themeOf(request: Request): Theme | null {
  const value = cookieOf(request, NAME);
  return value === "light" || value === "dark" ? value : null;
}

/** Called in the browser: sets the theme now and for later pages. */
export function chooseTheme(theme: Theme | null): void {
  if (theme) document.documentElement.dataset.theme = theme;
  else delete document.documentElement.dataset.theme;
  keepCookie(NAME, theme);
}

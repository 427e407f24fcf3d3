export type Theme = "light" | "dark";

const NAME = "zahlung_theme";

/** The theme a person chose, from the cookie; null: as the system says. */
export function themeOf(request: Request): Theme | null {
  const value = new RegExp(`${NAME}=(light|dark)`).exec(request.headers.get("cookie") ?? "")?.[1];
  return (value as Theme | undefined) ?? null;
}

/** Called in the browser: sets the theme now and for later pages. */
export function chooseTheme(theme: Theme | null): void {
  if (theme) {
    document.documentElement.dataset.theme = theme;
    document.cookie = `${NAME}=${theme}; Path=/; Max-Age=31536000; SameSite=Lax`;
  } else {
    delete document.documentElement.dataset.theme;
    document.cookie = `${NAME}=; Path=/; Max-Age=0; SameSite=Lax`;
  }
}

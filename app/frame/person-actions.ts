import { chooseTheme } from "./theme-cookie";

/** Does what an entry of the person's menu says. */
export function onPersonAction(key: string, go: (to: string) => void) {
  if (key === "light" || key === "dark") chooseTheme(key);
  else if (key === "system") chooseTheme(null);
  else if (key === "sign-out") (document.getElementById("sign-out") as HTMLFormElement).submit();
  else go(`/${key}`);
}

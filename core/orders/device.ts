/** What a shopper sits at, as the browser says: by its client hint (Sec-CH-UA-Mobile), else by its name. */
export function deviceSaid(header: (name: string) => string | null | undefined): "phone" | "computer" {
  const hint = header("sec-ch-ua-mobile");
  if (hint === "?1") return "phone";
  if (hint === "?0") return "computer";
  return /Mobi|Android|iPhone/i.test(header("user-agent") ?? "") ? "phone" : "computer";
}

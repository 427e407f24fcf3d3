/** What a shopper sits at, as the browser says: by its client hint (Sec-CH-UA-Mobile), else by its name. */
export function deviceOf(request: Request): "phone" | "computer" {
  const hint = request.headers.get("sec-ch-ua-mobile");
  if (hint === "?1") return "phone";
  if (hint === "?0") return "computer";
  return /Mobi|Android|iPhone/i.test(request.headers.get("user-agent") ?? "") ? "phone" : "computer";
}

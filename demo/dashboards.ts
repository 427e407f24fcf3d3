type Side = "sandbox" | "live";

/** What a person does in a provider's dashboard: reads the values it shows, and presses its buttons. */
export class AtDashboard {
  #cookie = "";

  constructor(
    readonly origin: string,
    readonly provider: string,
    readonly password: string,
  ) {}

  async #page(path: string, form?: Record<string, string>): Promise<string> {
    const answer = await fetch(`${this.origin}/${this.provider}/dashboard/${path}`, {
      headers: { cookie: this.#cookie },
      ...(form && { method: "POST", body: new URLSearchParams(form) }),
      redirect: "manual",
    });
    this.#cookie ||= answer.headers.get("set-cookie")?.split(";")[0] ?? "";
    return answer.text();
  }

  async signIn() {
    await this.#page("sign-in", { email: "kontor@luvwinkel.example", password: this.password });
  }

  /** The text that stands under an id. */
  async shows(side: Side, id: string, account?: string): Promise<string> {
    const page = await this.#page(side + (account ? `?account=${account}` : ""));
    return new RegExp(`id="${id}"\\s*>\\s*([^<]+?)\\s*<`).exec(page)?.[1] ?? "";
  }

  /** Presses a button, and gives back what it hands over, if it does. */
  async press(side: Side, press: string, form: Record<string, string> = {}): Promise<string> {
    const page = await this.#page(side, { press, ...form });
    return /id="issued"\s*>\s*([^<]+?)\s*</.exec(page)?.[1] ?? "";
  }

  /** The account of a name among those that the dashboard shows on a side. */
  async account(side: Side, name: string): Promise<string> {
    const found = new RegExp(`value="([^"]+)"[^>]*>[^<]*${name}`).exec(await this.#page(side))?.[1];
    if (!found) throw new Error(`${this.provider} shows no account of ${name}`);
    return found;
  }

  /** The cards that a side lists: number → what they lead to. */
  async cards(side: Side): Promise<Map<string, string>> {
    const rows = (await this.#page(side)).matchAll(/<code>([\d ]+)<\/code><\/td>\s*<td>([^<]+)</g);
    return new Map([...rows].map(([, number = "", says = ""]) => [number.replace(/ /g, ""), says]));
  }

  /** The text of a file that the dashboard gives out. */
  file = (side: Side, name: string) => this.#page(`${side}/files/${name}`);
}

const passwords: Record<string, string> = {
  karvello: "ostwind-am-haff",
  ostwick: "leuchtfeuer-am-riff",
  pennywhistle: "drei-toene-tief",
  quippa: "drachen-ueber-kamome",
  thumbra: "daumen-auf-glas",
  ratenhaus: "zwoelf-mal-zwoelf",
};

/** A dashboard that has been signed in to. */
export async function atDashboard(origin: string, provider: string): Promise<AtDashboard> {
  const desk = new AtDashboard(origin, provider, passwords[provider] ?? "");
  await desk.signIn();
  return desk;
}

/** Field id → the value the dashboard shows for it, or hands over. */
export async function keysAt(
  desk: AtDashboard,
  side: Side,
  account?: string,
): Promise<Record<string, string>> {
  const read = async (fields: Record<string, string>) =>
    Object.fromEntries(
      await Promise.all(
        Object.entries(fields).map(
          async ([field, id]) => [field, await desk.shows(side, id, account)] as const,
        ),
      ),
    );
  switch (desk.provider) {
    case "karvello": {
      const of: Record<string, string> = account ? { account } : {};
      return {
        ...(await read({ "account-code": "account-code" })),
        "frame-key": await desk.press(side, "frame-key", of),
        "server-key": await desk.press(side, "server-key", of),
      };
    }
    case "ostwick":
      return read({ "outlet-id": "outlet-id", passphrase: "passphrase" });
    case "pennywhistle": {
      const [id = "", secret = ""] = (await desk.press(side, "client", account ? { account } : {})).split(
        /\s+/,
      );
      return { "client-id": id, "client-secret": secret };
    }
    case "quippa":
      return read({ "merchant-id": "merchant-id", "api-key": "api-key", "notice-key": "notice-key" });
    case "thumbra":
      return read({ "seller-name": "seller", "seller-key": "seller-key" });
    default:
      return read({
        "house-name": "house-name",
        "house-password": "house-password",
        "letter-secret": "letter-secret",
      });
  }
}

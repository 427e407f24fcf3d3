/** What a person does at Karvello: takes keys from its dashboard, and types a card into its frame. */
export class AtKarvello {
  #cookie = "";

  constructor(readonly origin: string) {}

  async #post(path: string, form: Record<string, string>): Promise<string> {
    const answer = await fetch(this.origin + path, {
      method: "POST",
      headers: { cookie: this.#cookie },
      body: new URLSearchParams(form),
      redirect: "manual",
    });
    this.#cookie ||= answer.headers.get("set-cookie")?.split(";")[0] ?? "";
    return answer.text();
  }

  async signIn() {
    const login = { email: "kontor@luvwinkel.example", password: "ostwind-am-haff" };
    await this.#post("/karvello/dashboard/sign-in", login);
  }

  /** Keys as the dashboard issues them; `right` leaves the server key just that one. */
  async keys(side: "sandbox" | "live", right?: string): Promise<Record<string, string>> {
    const issue = async (kind: string) => {
      const page = await this.#post(`/karvello/dashboard/${side}/keys`, { kind, ...(right && { right }) });
      return /id="issued"\s*>\s*([^<\s]+)/.exec(page)?.[1] ?? "";
    };
    const page = await (
      await fetch(`${this.origin}/karvello/dashboard/${side}`, { headers: { cookie: this.#cookie } })
    ).text();
    const code = /id="account-code"\s*>\s*([^<\s]+)/.exec(page)?.[1] ?? "";
    return { "account-code": code, "frame-key": await issue("frame"), "server-key": await issue("server") };
  }

  /** A one-time token for a card, as the frame hands it over. */
  async token(side: "sandbox" | "live", keys: Record<string, string>, number: string): Promise<string> {
    const card = { number, expiry: "09/39", code: "707", name: "Ida Haff", lang: "en" };
    const answer = await fetch(`${this.origin}/karvello/${side}/tokens`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ ...card, account: keys["account-code"], key: keys["frame-key"] }),
    });
    return String(((await answer.json()) as { token?: string }).token);
  }
}

/** Cards as Karvello's dashboard lists them. */
export const cards = {
  sandbox: ["9901000000000019", "9902000000000091", "9901000000000027"],
  live: {
    good: ["9901770000000017", "9902770000000099", "9903770000000106"],
    bad: ["9901770000000025", "9901770000000041", "9901770000000066", "9901770000000082"],
  },
};

import { AtDashboard } from "./dashboards";

/** What a person does at Karvello: takes keys from its dashboard, and types a card into its frame. */
export class AtKarvello extends AtDashboard {
  constructor(origin: string) {
    super(origin, "karvello", "ostwind-am-haff");
  }

  /** Keys as the dashboard issues them; `right` leaves the server key just that one. */
  async keys(side: "sandbox" | "live", right?: string): Promise<Record<string, string>> {
    return {
      "account-code": await this.shows(side, "account-code"),
      "frame-key": await this.press(side, "frame-key"),
      "server-key": await this.press(side, "server-key", right ? { right } : {}),
    };
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
    /** Good while its holder is there, declined when it is charged without them. */
    later: "9901770000000140",
    bad: ["9901770000000025", "9901770000000041", "9901770000000066", "9901770000000082"],
  },
};

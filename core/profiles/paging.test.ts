import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tell } from "../../scripts/english";
import { ProfileError } from "./expressions";
import { pageAt } from "./paging";
import type { Profile } from "./profile";
import { readProfile } from "./read-profile";
import { buildRequest, type WireRequest } from "./request";
import { readResponse, type WireResponse } from "./response";

// Lists that go on in each of the three ways, walked page by page against a provider that has so many.

const document = (name: string) => JSON.parse(readFileSync(`profiles/${name}.json`, "utf8")) as Profile;
const shipped = (name: string): Profile => {
  const reading = readProfile(document(name));
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.profile;
};
const [karvello, ostwick, ratenhaus] = [shipped("karvello"), shipped("ostwick"), shipped("ratenhaus")];
const ids = (count: number) => Array.from({ length: count }, (_, i) => `P${i}`);
const day = "2026-11-02T08:00:00Z";

interface Provider {
  profile: Profile;
  credentials: Record<string, string>;
  /** How many stand on a page. */
  size: number;
  answer: (all: string[], asked: WireRequest) => WireResponse;
}
const byCursor: Provider = {
  ...{ profile: karvello, credentials: { "server-key": "k" }, size: 3 },
  answer: (all, { url }) => {
    const after = new URL(url).searchParams.get("after");
    const first = after ? all.indexOf(after) + 1 : 0;
    const page = all.slice(first, first + 3);
    const more = first + 3 < all.length ? page.at(-1) : null;
    const sendings = page.map((no) => ({ no, coin: "EUR", sum: 1, stand: "landed", day }));
    return { status: 200, body: JSON.stringify({ sendings, more }) };
  },
};
const byOffset: Provider = {
  ...{ profile: ostwick, credentials: { "outlet-id": "OL1", passphrase: "p" }, size: 50 },
  answer: (all, { body = "" }) => {
    const skip = Number(new URLSearchParams(body).get("SKIP"));
    const fields = all
      .slice(skip, skip + 50)
      .flatMap((no, i) =>
        Object.entries({ NO: no, CURRENCY: "EUR", SUM: "0.01", DAY: day }).map(
          ([name, value]) => [`STATEMENTS.${i}.${name}`, value] as [string, string],
        ),
      );
    return { status: 200, body: new URLSearchParams([["RESULT", "00"], ...fields]).toString() };
  },
};
const byLink: Provider = {
  ...{ profile: ratenhaus, credentials: { "house-name": "probe-1", "house-password": "p" }, size: 4 },
  answer: (all, { url }) => {
    const first = Number(new URL(url).searchParams.get("leaf") ?? 0);
    const statements = all
      .slice(first, first + 4)
      .map((no) => ({ no, currency: "EUR", sum: "0.01", stand: "sent", day }));
    const last = `<?leaf=0>; rel="first"`;
    const link = first + 4 < all.length ? `${last}, <?leaf=${first + 4}>; rel="next"` : last;
    return { status: 200, body: JSON.stringify({ statements }), headers: [["Link", link]] };
  },
};

async function walk({ profile, credentials, answer }: Provider, all: string[]) {
  const found: string[] = [];
  let [after, pages] = ["", 0];
  for (;;) {
    const input = { since: day, after };
    const asked = await buildRequest(profile, "test", "listPayouts", input, credentials, {
      now: Date.UTC(2026, 10, 3),
      nonce: "n",
    });
    const reading = await readResponse(profile, "listPayouts", answer(all, asked), after);
    if (!reading.ok) throw new Error(JSON.stringify(reading.problem));
    found.push(...reading.value.payouts.map(({ id }) => id));
    pages++;
    const { next } = reading.value;
    if (next === undefined) return { found, pages };
    expect(next).not.toBe(after);
    after = next;
  }
}

describe.each([
  ["a cursor", byCursor],
  ["an offset", byOffset],
  ["a link", byLink],
])("a list that goes on by %s", (_, provider) => {
  it("is read whole, each thing once, whatever there is of it", async () => {
    const { size } = provider;
    for (const count of [0, 1, size - 1, size, size + 1, 2 * size, 3 * size + 1]) {
      const { found, pages } = await walk(provider, ids(count));
      expect(found).toEqual(ids(count));
      // Where only a short page tells of the end, a full last one is asked after once more.
      const full = provider === byOffset && count > 0 && count % size === 0 ? 1 : 0;
      expect(pages).toBe(Math.max(1, Math.ceil(count / size)) + full);
    }
  });
});

describe("a link to the next page", () => {
  const api = "https://rh.example/sandbox/api";
  const at = (link: string) => pageAt(api, `${api}/statements?from=x`, link);

  it("is followed within the provider's own address, written in whole or in part", () => {
    expect(at(`${api}/statements?leaf=2`)).toBe(`${api}/statements?leaf=2`);
    expect(at("?leaf=2")).toBe(`${api}/statements?leaf=2`);
    expect(at("/sandbox/api/more#here")).toBe(`${api}/more`);
  });

  it.each([
    "https://elsewhere.example/sandbox/api/statements",
    "//elsewhere.example/sandbox/api/statements",
    "http://rh.example/sandbox/api/statements",
    "/live/api/statements",
    "../../live/api",
    "/sandbox/apiary",
    "https://ida@rh.example/sandbox/api/statements",
    "javascript:alert(1)",
    "http://[",
  ])("is refused where it leads to %s", (link) => {
    expect(() => at(link)).toThrow(ProfileError);
  });

  it("never leads away, whatever it is", () => {
    fc.assert(
      fc.property(fc.webUrl(), fc.string(), (url, text) => {
        for (const link of [url, text, `//${text}`, `/${text}`, `..${text}`])
          try {
            expect(at(link).startsWith(`${api}/`)).toBe(true);
          } catch (error) {
            expect(error).toBeInstanceOf(ProfileError);
          }
      }),
    );
  });

  it("is said to be unreadable where it is", async () => {
    const read = (link: string) =>
      readResponse(ratenhaus, "listPayouts", {
        ...{ status: 200, body: '{"statements":[]}', headers: [["link", link]] },
      });
    expect(await read('<?a>; rel="prev next"')).toMatchObject({ value: { next: "?a" } });
    for (const link of ["?a; rel=next", "<?a", "<?a>; rel=next, more"]) {
      const refused = await read(link).catch((error: unknown) => error);
      expect(tell((refused as ProfileError).says)).toMatch(/Link header cannot be read/);
    }
  });
});

describe("a profile", () => {
  const told = (operation: "listPayouts" | "account", paging: object) => {
    const whole = document("ratenhaus");
    const changed = { ...whole.operations[operation], paging };
    const reading = readProfile({ ...whole, operations: { ...whole.operations, [operation]: changed } });
    return reading.ok ? [] : reading.problems.map(({ says }) => tell(says));
  };

  it("says how many stand on a page where it goes on by offset, and only of a list", () => {
    expect(told("listPayouts", { by: "offset", size: 10 })).toEqual([]);
    expect(told("listPayouts", { by: "link" })).toEqual([]);
    const size = ["names size where it goes on by offset, and only there."];
    expect(told("listPayouts", { by: "offset" })).toEqual(size);
    expect(told("listPayouts", { by: "link", size: 10 })).toEqual(size);
    expect(told("account", { by: "link" })).toEqual(["answers with no list that has pages."]);
    expect(told("listPayouts", { by: "leaf" })[0]).toMatch(/must be one of/);
  });
});

import { speaking } from "../../scripts/english";
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { modes, type Mode } from "../mode";
import { fieldOf, type ProfileField } from "../profiles/profile";
import { readProfile } from "../profiles/read-profile";
import { checkForm as checkFormSaid } from "./form";

const checkForm = speaking(checkFormSaid);

const reading = readProfile(JSON.parse(readFileSync("profiles/karvello.json", "utf8")));
if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
const { profile } = reading;
const field = (id: string): ProfileField => {
  const found = fieldOf(profile, id);
  if (!found) throw new Error(id);
  return found;
};
const good: Record<string, Record<Mode, string>> = {
  "account-code": { test: "KV-S-207714", live: "KV-L-883102" },
  "frame-key": { test: `kvf.s.${"a".repeat(20)}`, live: `kvf.l.${"b".repeat(20)}` },
  "server-key": { test: `kvs.s.${"c".repeat(32)}`, live: `kvs.l.${"d".repeat(32)}` },
};
const check = (id: string, mode: Mode, pasted: string) => checkForm(profile, field(id), mode, pasted);
const says = (id: string, mode: Mode, pasted: string) => {
  const found = check(id, mode, pasted);
  return found.ok ? null : found.says;
};

describe("a value that was pasted", () => {
  it("is taken in its own place, and nowhere else", () => {
    for (const [id, values] of Object.entries(good)) {
      for (const mode of modes) {
        expect(check(id, mode, values[mode])).toEqual({ ok: true, value: values[mode], trimmed: false });
        for (const [otherId, others] of Object.entries(good)) {
          for (const side of modes) {
            if (otherId === id && side === mode) continue;
            const code = otherId === id ? "other-mode" : "other-field";
            expect(check(id, mode, others[side]), `${others[side]} in ${id}, ${mode}`).toMatchObject({
              ok: false,
              code,
            });
          }
        }
      }
    }
  });

  it("says what it is and where it stands", () => {
    expect(says("server-key", "live", good["server-key"]?.test ?? "")).toBe(
      "This is the sandbox server key, and this is the live column.",
    );
    expect(says("frame-key", "test", good["account-code"]?.live ?? "")).toBe(
      "This is the live account code; the frame key goes here.",
    );
    expect(says("account-code", "test", "207714")).toMatch(/only the digits/);
    expect(says("account-code", "test", "SABCDEFGHJKLM")).toMatch(/number of a slip/);
    expect(says("server-key", "test", "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw")).toMatch(
      /webhook signing secret/,
    );
    expect(says("account-code", "test", "<b>x</b>")).toBe(
      "This does not look like the account code of Karvello.",
    );
    expect(says("account-code", "test", "  ")).toBe("Nothing was pasted.");
    expect(says("server-key", "test", "k".repeat(900))).toBe("That is 900 characters; no key is that long.");
  });

  it("is freed of white and invisible characters wherever they crept in, and says so", () => {
    const stray = fc.constantFrom(" ", "\n", "\t", "\r\n", "\u00a0", "\u200b", "\ufeff", "\u200e");
    fc.assert(
      fc.property(
        fc.constantFrom(...Object.keys(good)),
        fc.constantFrom(...modes),
        fc.array(fc.tuple(fc.nat(60), stray), { maxLength: 5 }),
        (id, mode, strays) => {
          const value = good[id]?.[mode] ?? "";
          const pasted = strays.reduce((text, [at, one]) => {
            const place = at % (text.length + 1);
            return text.slice(0, place) + one + text.slice(place);
          }, value);
          expect(check(id, mode, pasted)).toEqual({ ok: true, value, trimmed: strays.length > 0 });
        },
      ),
    );
  });

  it("of any kind has an answer in words, and never a wrong yes", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 700 }), (pasted) => {
        const found = check("server-key", "test", pasted);
        if (found.ok) expect(found.value).toMatch(/^kvs\.s\.[a-z0-9]{32}$/);
        else expect(found.says.length).toBeGreaterThan(10);
      }),
    );
  });
});

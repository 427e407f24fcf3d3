import { describe, expect, it } from "vitest";
import shipped from "../../profiles/karvello.json";
import { tell } from "../../scripts/english";
import type { Profile } from "./profile";
import { plainWords } from "./plain-words";
import { operationNames } from "./profile-types";
import { versionWords } from "./version-words";

const karvello = shipped as unknown as Profile;
/** What a version that was changed so is said to differ in. */
const differs = (change: (profile: Profile) => void): string[] => {
  const after = structuredClone(karvello);
  change(after);
  return versionWords(karvello, after).map(tell);
};

describe("what a new version of a profile is said to differ in", () => {
  it("is nothing where it is the same", () => {
    expect(differs(() => {})).toEqual([]);
  });

  it("is each operation that came, went or is asked another way, in words and never by its key", () => {
    const operation = karvello.operations.account;
    for (const name of operationNames) {
      const said = differs((profile) => {
        if (profile.operations[name]) delete profile.operations[name];
        else Object.assign(profile.operations, { [name]: operation });
      }).join(" ");
      expect(said, name).toMatch(/It can (no longer )?[a-z ,’]+( now)?\./);
      // A word in the middle of which stands a capital is a key.
      expect(said, name).not.toMatch(/[a-z][A-Z]/);
    }
    expect(differs((profile) => delete profile.operations.listDisputes)).toEqual([
      "It can no longer read the disputes of the account.",
    ]);
    const asked = differs((profile) => {
      const { forget } = profile.operations;
      if (forget) forget.request.path += "/all";
    });
    expect(asked).toEqual(["The way it is asked to forget what a shopper has kept changed."]);
  });

  it("is what payments of a method can do, and the methods and messages themselves", () => {
    const card = (profile: Profile) => profile.methods[0] as Profile["methods"][number];
    const { name } = card(karvello);
    for (const [ability, words] of [
      ["partialCapture", "be captured in part"],
      ["keeps", "leave what was paid with for the next time"],
      ["verifies", "come to nothing, to show that what is paid with is good"],
    ] as const)
      expect(differs((profile) => delete card(profile)[ability])).toEqual([
        `${name}: its payments can no longer ${words}.`,
      ]);
    expect(differs((profile) => (card(profile).capturedByCall = true))).toEqual([
      `${name}: its payments can be captured at once by a call of its own.`,
    ]);
    expect(differs((profile) => profile.methods.shift()).join()).toContain(name);
    expect(differs((profile) => delete profile.webhooks)).toContain("It sends no messages any more.");
    expect(differs((profile) => profile.webhooks?.events.pop()).join()).toContain("card.changed");
    expect(
      differs((profile) => {
        if (profile.webhooks) profile.webhooks.refund = "about";
      }),
    ).toEqual(["Its messages are read another way."]);
    expect(differs((profile) => (profile.exponents = { JPY: 2 }))).toEqual([
      "It counts the decimals of some currencies another way.",
    ]);
  });
});

it("what a profile can do is said before it is installed, with what it reads of money", () => {
  const can = plainWords(karvello).can.map(tell).join("; ");
  for (const words of [
    ...["read the disputes of the account", "read what was paid out", "forget what a shopper has kept"],
    ...["let go of a part of what is held", "answer disputes"],
  ])
    expect(can).toContain(words);
  expect(can).not.toMatch(/[a-z][A-Z]/);
});

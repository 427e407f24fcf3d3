import { describe, expect, it } from "vitest";
import shipped from "../../profiles/pennywhistle.json";
import { ProfileError } from "./expressions";
import type { Profile } from "./profile";
import { readResponse } from "./response";
import { sessionAnswer, sessionQuestion, sessionReading } from "./session-reading";

const pennywhistle = shipped as unknown as Profile;
const session = {
  id: "s1",
  phase: "agreed",
  amount: { value: "43.90", currency: "EUR" },
  choice: "parcel",
  payer: { name: "Ida", mail: "ida@example.org", phone: null },
  ship_to: { country: "DE", code: "27498", town: "Helgoland", street: ["Deich 7"] },
};
const read = (change: object) =>
  readResponse(pennywhistle, "readSession", {
    status: 200,
    body: JSON.stringify({ session: { ...session, ...change } }),
  });

describe("what a shopper agreed to at a wallet", () => {
  it("is read from the provider's answer: token, sum, place and contact", async () => {
    expect(await read({})).toEqual({
      ok: true,
      value: {
        ...{ state: "agreed", token: "s1", amount: 4390, currency: "EUR", delivery: "parcel" },
        address: { country: "DE", postcode: "27498", city: "Helgoland", lines: ["Deich 7"] },
        contact: { name: "Ida", email: "ida@example.org" },
      },
    });
    expect(await read({ phase: "open" })).toEqual({ ok: true, value: { state: "open" } });
    expect(await read({ phase: "left" })).toEqual({ ok: true, value: { state: "over" } });
  });

  const agreed = {
    ...{ state: "agreed", token: "t", amount: "1.00", currency: "EUR", address: { country: "DE" } },
  };
  it("is not taken without what it is for", () => {
    expect(sessionReading(pennywhistle, agreed)).toMatchObject({ amount: 100, contact: {} });
    for (const change of [
      { token: null },
      { amount: "0.00" },
      { amount: "1.001" },
      { currency: "XYZ" },
      { address: null },
      { address: { country: "Nowhere" } },
      { state: "perhaps" },
      { contact: { email: "no address" } },
      { address: { country: "DE", postcode: "x".repeat(13) } },
    ])
      expect(() => sessionReading(pennywhistle, { ...agreed, ...change }), JSON.stringify(change)).toThrow(
        ProfileError,
      );
  });

  it("tells of no region that is no code", () => {
    const region = (text: string) =>
      sessionReading(pennywhistle, { ...agreed, address: { country: "DE", region: text } }).address?.region;
    expect([region("DE-SH"), region("Schleswig-Holstein"), region("")]).toEqual([
      "DE-SH",
      undefined,
      undefined,
    ]);
  });
});

describe("what a wallet asks", () => {
  it("is read without street or name, whatever it sends", async () => {
    const asked = {
      ...{ session: "s1", choice: "parcel" },
      ship_to: { country: "GB", code: "PL1 2AB", town: "Plymouth", street: ["12 Kite Pier"] },
    };
    expect(await sessionQuestion(pennywhistle, asked)).toEqual({
      ...{ delivery: "parcel", address: { country: "GB", postcode: "PL1 2AB", city: "Plymouth" } },
    });
    await expect(sessionQuestion(pennywhistle, {})).rejects.toThrow(ProfileError);
    await expect(sessionQuestion({ ...pennywhistle, sessions: undefined } as never, asked)).rejects.toThrow(
      ProfileError,
    );
  });

  it("is answered as the profile writes it, or refused in words", async () => {
    const deliveries = [{ id: "parcel", name: "Parcel", price: 490 }];
    const answer = { refused: null, currency: "EUR", total: 4390, deliveries, delivery: "parcel" };
    expect(await sessionAnswer(pennywhistle, answer)).toEqual({
      ...{ total: { value: "43.90", currency: "EUR" }, choice: "parcel" },
      choices: [{ id: "parcel", words: "Parcel", price: "4.90" }],
    });
    expect(await sessionAnswer(pennywhistle, { ...answer, refused: "Not there." })).toEqual({
      no: "Not there.",
    });
  });
});

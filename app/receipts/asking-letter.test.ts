import { describe, expect, it } from "vitest";
import { lookIn, usualLook } from "#core/looks/look";
import type { AskingView } from "#core/subscriptions/asking";
import { spokenHere } from "../checkouts/words.server";
import { writeAsking } from "./asking-letter.server";

const view = (change: Partial<AskingView> = {}): AskingView => ({
  ...{
    storefront: "Luvwinkel DE",
    look: lookIn(usualLook, "de"),
    mode: "live",
    language: "de",
    country: "DE",
  },
  ...{ origin: "https://pay.example", name: "Ein Drachen je Saison", order: "LW-7-2" },
  ...{ sum: { amount: 4_900, currency: "EUR" }, dueAt: Date.UTC(2027, 1, 27, 23, 30) },
  timeZone: "Europe/Berlin",
  ...{ ends: null, address: "https://pay.example/pay/abc" },
  ...change,
});

describe("the letter to a shopper whose subscription could not be charged", () => {
  it("says what is due since when, under which number, and where it is paid", async () => {
    const { subject, text, html } = await writeAsking(view());
    expect(subject).toBe("Luvwinkel DE: Ein Drachen je Saison konnte nicht abgebucht werden");
    for (const part of [
      "LW-7-2",
      "28. Februar 2027",
      "https://pay.example/pay/abc",
      "Ein Drachen je Saison",
    ]) {
      expect(text).toContain(part);
      expect(html).toContain(part);
    }
    expect(text.replaceAll("\u00a0", " ")).toContain("49,00 €");
  });

  it("says what ends before the next charge, and where something else is given", async () => {
    const { subject, text } = await writeAsking(view({ ends: "Norda …0019" }));
    expect(subject).toBe("Luvwinkel DE: Womit Sie Ein Drachen je Saison bezahlen, läuft bald ab");
    expect(text).toContain(
      "Norda …0019 läuft ab, bevor Ein Drachen je Saison das nächste Mal abgebucht wird",
    );
    expect(text).toContain("Etwas anderes wählen: https://pay.example/pay/abc");
  });

  it("says that it is but a test, and is whole in every language", async () => {
    expect((await writeAsking(view({ mode: "test" }))).subject).toMatch(/^Test/);
    for (const language of Object.keys(spokenHere)) {
      const { subject, text, html } = await writeAsking(view({ language }));
      const ends = await writeAsking(view({ language, ends: "Norda …0019" }));
      expect(subject + text + ends.subject + ends.text, language).not.toMatch(/\{\w+\}/);
      expect(html).toContain(`lang="${language}"`);
    }
  });
});

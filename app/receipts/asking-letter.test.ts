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
  ...{ sum: { amount: 4_900, currency: "EUR" }, dueAt: Date.UTC(2027, 1, 28, 12) },
  address: "https://pay.example/pay/abc",
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

  it("says that it is but a test, and is whole in every language", async () => {
    expect((await writeAsking(view({ mode: "test" }))).subject).toMatch(/^Test/);
    for (const language of Object.keys(spokenHere)) {
      const { subject, text, html } = await writeAsking(view({ language }));
      expect(subject + text, language).not.toMatch(/\{\w+\}/);
      expect(html).toContain(`lang="${language}"`);
    }
  });
});

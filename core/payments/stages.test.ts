import { expect, it } from "vitest";
import { occurringStates, unmappedStates } from "./stages";

it("asks a stage for every state that can occur", () => {
  const can = { refund: true, partialRefund: false };
  expect(occurringStates("at-once", can)).not.toContain("authorised");
  expect(occurringStates("later", can)).toContain("voided");
  expect(unmappedStates(["captured", "declined"], { captured: "Paid", declined: "Gone" }, ["Paid"])).toEqual([
    "declined",
  ]);
});

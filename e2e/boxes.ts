import type { Locator } from "@playwright/test";

/** Chooses one of a list by its id or its name, as a person does: the list is opened, and the one is pressed. */
export async function pick(labelled: Locator, what: string | { label: string }) {
  // What nobody is shown is labelled by its options.
  const box = labelled.and(labelled.page().locator(':not([aria-hidden="true"], [aria-hidden="true"] *)'));
  // A page that is not of Zahlung has the browser's own.
  if ((await box.evaluate((node) => node.tagName)) === "SELECT") {
    await box.selectOption(what);
    return;
  }
  await box.click();
  const name = typeof what === "string" ? what : what.label;
  const option = `[role="option"]`;
  await box
    .page()
    .getByRole("listbox")
    .locator(`${option}[data-key="${name}"], ${option}:text-is("${name}")`)
    .first()
    .click();
}

/** Presses a box that is drawn by what stands beside it. */
export const tick = (box: Locator) => box.locator("xpath=..").click();

/** Types a day, `2026-11-25`, into its parts, in the order in which the English of Europe writes them. */
export async function typeDay(label: Locator, day: string) {
  const [year = "", month = "", date = ""] = day.split("-");
  await label.getByRole("spinbutton").first().click();
  await label.page().keyboard.type(`${date}${month}${year}`);
}

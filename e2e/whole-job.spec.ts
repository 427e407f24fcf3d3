import { pick } from "./boxes";
import {
  cards,
  connect,
  enter,
  giveShopKey,
  goToPayment,
  issueKeys,
  makeShopKey,
  orderStage,
  proveWebhook,
  refund,
  signInByForm,
  storefront,
  typeCard,
} from "./people";
import { accessible, expect, letPass, test } from "./world";

test.use({ room: "whole-job" });

test("an administrator takes a shop from keys to live and back", async ({ page, world, quietConsole }) => {
  const { zahlung, shop } = world.env.origins;
  const at = (path: string) => `${zahlung}${storefront}${path}`;
  const sandbox = await issueKeys(page, world, "sandbox");
  const live = await issueKeys(page, world, "live");
  let order = "";

  await test.step("signs in and chooses a provider", async () => {
    await signInByForm(page, world);
    await accessible(page);
    await page.getByRole("link", { name: "Choose a provider" }).click();
    await page.getByRole("button", { name: "Connect Karvello" }).click();
    await expect(page.getByRole("heading", { name: "Handshake with Karvello" })).toBeVisible();
  });

  await test.step("carries keys and webhooks across, for test and live", async () => {
    await connect(page, sandbox, "test");
    await expect(page.getByText("fits the storefront")).toBeVisible();
    await proveWebhook(page, "test", 0);
    await connect(page, live, "live");
    await proveWebhook(page, "live", 1);
    await expect(page.getByText(/^proven/)).toHaveCount(6);
    await accessible(page);
  });

  await test.step("gives the shop its test key", async () => {
    const key = await makeShopKey(page, "test");
    await accessible(page);
    await giveShopKey(page, world, "test", key);
  });

  await test.step("makes an offer", async () => {
    await page.goto(at("/offer"));
    await page.getByRole("button", { name: "Offer “Card” through Karvello" }).click();
    await page.getByLabel("Name, German").fill("Karte");
    await page.getByLabel("Name, English").fill("Card");
    await page.getByLabel("Statement text").fill("LUVWINKEL DRACHEN");
    const stages = {
      pending: "Reserved",
      captured: "Paid: to the loft",
      declined: "Refused",
      failed: "Refused",
      cancelled: "Refused",
      expired: "Refused",
      refunded: "Handed back",
      "partly refunded": "Under question",
    };
    for (const [state, stage] of Object.entries(stages)) {
      await pick(page.getByLabel(`Order stage when ${state}`, { exact: true }), stage);
    }
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByText("saved as revision 2")).toBeVisible();
    await accessible(page);
  });

  await test.step("a shopper is declined, tries again and pays", async () => {
    await goToPayment(page, world);
    await accessible(page);
    await typeCard(page, cards.sandbox.empty);
    await expect(page.getByText("there is not enough money on it")).toBeVisible();
    await typeCard(page, cards.sandbox.good);
    await expect(page.getByRole("heading", { name: "Paid. Thank you" })).toBeVisible();
    await expect(page).toHaveURL(new RegExp(`${shop}/orders/LW-`));
    order = page.url().split("/").at(-1) ?? "";
    await expect(orderStage(page)).toHaveText("Paid: to the loft");
  });

  await test.step("rehearses every case", async () => {
    await page.goto(at("/rehearse"));
    // What the shopper walked through counts already.
    for (const title of ["Insufficient funds", "Approved"]) {
      await page.getByRole("button", { name: `${title}, Card: passed` }).click();
      await expect(page.getByRole("region", { name: `${title}, Card` })).toContainText("walked by a person");
    }
    await page.getByRole("button", { name: "Run all" }).click();
    await expect(page.getByText(/all \d+ required cases passed/)).toBeVisible();
    await accessible(page);
    await page.getByRole("button", { name: "Answer lost, Card: passed" }).click();
    await page
      .getByRole("region", { name: "Answer lost, Card" })
      .getByRole("link", { name: "Every message of it" })
      .click();
    await expect(page.getByText("answer was lost on purpose").first()).toBeVisible();
    await accessible(page);
  });

  await test.step("finds the lever locked until the shop has called with its live key", async () => {
    await page.goto(at("/cut-over"));
    await expect(page.getByRole("button", { name: "Locked by 1 gate" })).toBeDisabled();
    await accessible(page);
    const key = await makeShopKey(page, "live");
    await giveShopKey(page, world, "live", key);
  });

  await test.step("cuts over", async () => {
    await page.goto(at("/cut-over"));
    await page.getByRole("button", { name: "Cut over to live" }).click();
    await expect(page.getByText("Now make one small real payment")).toBeVisible();
    await page.goto(at("/operate?mode=test"));
    await expect(page.getByText(order)).toHaveCount(0);
    await page.goto(`${shop}/keeper/orders`);
    await expect(page.getByRole("row").filter({ hasText: order })).toContainText("closed");
  });

  await test.step("takes the first live payment and refunds it", async () => {
    await goToPayment(page, world, "tape");
    await expect(page.getByText("Test", { exact: true })).toHaveCount(0);
    await typeCard(page, cards.live.good);
    await expect(page).toHaveURL(new RegExp(`${shop}/orders/LW-`));
    await expect(orderStage(page)).toHaveText("Paid: to the loft");
    // After the cutover the everyday list is live's; what is only in test is pointed at.
    await page.goto(at(`/operate?q=${order}`));
    await page.getByRole("link", { name: "It is among the test payments" }).click();
    await expect(page.getByRole("link", { name: order })).toHaveCount(2);
    await page.goto(at("/cut-over"));
    await page.getByRole("link", { name: "Refund it on its page" }).click();
    await accessible(page);
    await refund(page);
    await expect(page.getByText("€8.80 refunded.").or(page.getByText("8,80 € refunded."))).toBeVisible();
    await page.goto(at("/operate?mode=live"));
    await expect(page.getByRole("row").filter({ hasText: "LW-" }).first()).toContainText("refunded");
    await accessible(page);
  });

  await test.step("a wrong live key closes its gate and does not stop the live shop", async () => {
    await page.goto(at("/connect"));
    await page.getByLabel("Replace Server key, live").click();
    await enter(page, "Server key", "live", `kvs.l.${"a".repeat(32)}`);
    await expect(page.getByText("Key refused by Karvello: it does not know it on this side.")).toBeVisible();
    await expect(page.getByText(/Live payments go on with the keys of/)).toBeVisible();
    await accessible(page);
    await page.goto(at(""));
    await expect(page.getByText("A gate no longer holds: Live keys proven.")).toBeVisible();
    await page.getByRole("link", { name: "Mend it" }).click();
    await page.getByLabel("Replace Server key, live").click();
    await enter(page, "Server key", "live", live.server);
    await expect(page.getByText(/Live payments go on with the keys of/)).toHaveCount(0);
  });

  await test.step("falls back with a payment under way, which can still be refunded", async () => {
    await goToPayment(page, world);
    await typeCard(page, cards.live.good);
    await expect(page).toHaveURL(new RegExp(`${shop}/orders/LW-`));
    const underWay = page.url().split("/").at(-1) ?? "";
    await page.goto(at("/cut-over"));
    await page.getByRole("button", { name: "Fall back…" }).click();
    await page.getByRole("button", { name: "Stop new live payments" }).click();
    await expect(page.getByText("Fallen back to test")).toBeVisible();
    await goToPayment(page, world);
    await expect(
      page.getByRole("heading", { name: "This order cannot be paid here just now" }),
    ).toBeVisible();
    await page.goto(at("/operate?mode=live"));
    await page.getByRole("link", { name: underWay }).click();
    await refund(page);
    await expect(page.getByText("€ refunded.")).toBeVisible();
    await page.goto(`${shop}/orders/${underWay}`);
    await expect(orderStage(page)).toHaveText("Handed back");
  });

  await test.step("revokes the shop's test key, after being told what that means", async () => {
    await page.goto(at("/shop"));
    await page
      .getByRole("button", { name: /^Revoke key/ })
      .first()
      .click();
    await expect(page.getByRole("alertdialog")).toContainText("the shop cannot open test checkouts");
    await page.getByRole("button", { name: "Revoke it" }).click();
    await expect(page.getByRole("button", { name: /^Revoke key/ })).toHaveCount(1);
  });

  await test.step("finds every screen accessible, in both themes", async () => {
    const screens = [
      "",
      "/plan",
      "/connect",
      "/offer",
      "/rehearse",
      "/cut-over",
      "/operate?mode=test&archived=1",
      "/operate/webhooks?mode=test",
      "/operate/webhooks?mode=live",
      "/shop",
    ];
    // Nothing may move under the pointer while a page comes up.
    const moved = () =>
      page.evaluate(
        () =>
          new Promise<number>((resolve) => {
            let sum = 0;
            new PerformanceObserver((list) => {
              for (const entry of list.getEntries())
                sum += (entry as PerformanceEntry & { value: number }).value;
            }).observe({ type: "layout-shift", buffered: true });
            setTimeout(() => resolve(sum), 300);
          }),
      );
    for (const path of screens) {
      await page.goto(at(path));
      await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
      expect(await moved(), path).toBeLessThan(0.02);
      await accessible(page);
    }
    await page.goto(at("/operate?mode=live"));
    await page.getByRole("link", { name: /^LW-/ }).first().click();
    await expect(page.getByRole("heading", { name: "The score" })).toBeVisible();
    await accessible(page);
    for (const path of ["/audit", "/storefronts/new", "/nowhere"]) {
      await page.goto(zahlung + path);
      await accessible(page);
    }
    letPass(quietConsole, /status of 404/);
  });
});

import { html } from "../../html";
import { type Embed, type Plan } from "../counter";
import { branchOf, minorOf, money } from "../branches";
import { type Good, goodIn, goods } from "../goods";
import { type Visit, wordsOf, priceFor, put } from "./frame";

/** Where dealers and clubs sign in. */
export const signInPage = (visit: Visit, wrong = false) => {
  const words = wordsOf(visit);
  return html`<h1>${words.signIn}</h1>
    <form class="slip" method="post" action="/sign-in">
      ${wrong && html`<p class="no" role="alert">${words.notKnown}</p>`}
      ${visit.customer && html`<p>${visit.customer.name}</p>`}
      <label>${words.word} <input name="word" autocomplete="off" /></label>
      <p>
        <button>${words.signIn}</button>
        ${visit.customer && html`<button name="out" value="yes">${words.signOut}</button>`}
      </p>
    </form>`;
};

export const frontPage = (visit: Visit, embed: Embed | null = null) =>
  html`<h1>${wordsOf(visit).today}</h1>
    ${put(embed)}
    ${branchOf(visit.branch).dealersOnly && visit.customer?.group !== "dealers" && html`<p>${wordsOf(visit).dealersOnly}</p>`}
    <ul class="goods">
      ${goods.map(
        (good) =>
          html`<li>
            <svg viewBox="0 0 100 100" aria-hidden="true"><path d="${good.shape}" /></svg>
            <h2><a href="/goods/${good.id}">${goodIn(good, visit.language).name}</a></h2>
            <p>${goodIn(good, visit.language).says}</p>
            <p><b>${priceFor(good.cents, visit.branch)}</b></p>
            <form method="post" action="/basket">
              <button name="add" value="${good.id}">${wordsOf(visit).toBasket}</button>
            </form>
          </li>`,
      )}
    </ul>`;

/** One thing that is sold. */
export const goodPage = (good: Good, visit: Visit, embed: Embed | null) =>
  html`<div class="slip">
    <svg viewBox="0 0 100 100" aria-hidden="true"><path d="${good.shape}" /></svg>
    <h1>${goodIn(good, visit.language).name}</h1>
    <p>${goodIn(good, visit.language).says}</p>
    <p class="stage">${priceFor(good.cents, visit.branch)}</p>
    ${put(embed)}
    <form method="post" action="/basket">
      <button name="add" value="${good.id}">${wordsOf(visit).toBasket}</button>
    </form>
  </div>`;

const unitOf = ({ count, unit }: Plan["every"], language: string) =>
  new Intl.NumberFormat(language, { style: "unit", unit, unitDisplay: "long" }).format(count);

/** What can be subscribed to. */
export const plansPage = (plans: readonly Plan[], visit: Visit, wrong = "") => {
  const words = wordsOf(visit);
  const { currency } = branchOf(visit.branch);
  return html`<h1>${words.seasons}</h1>
    ${wrong && html`<p class="no" role="alert">${wrong}</p>`}
    ${plans.length === 0 && html`<p>${words.noPlans}</p>`}
    ${plans.map((plan) => {
      const price = plan.prices.find((one) => one.currency === currency);
      const text = (amount: string) => money(minorOf(amount, currency), currency);
      return html`<form class="slip" method="post" action="/seasons">
        <h2>${plan.names[visit.language] ?? Object.values(plan.names)[0] ?? ""}</h2>
        <p>
          <b>${text(price?.amount ?? "0")}</b> / ${unitOf(plan.every, visit.language)}
          ${Number(price?.setUp) > 0 && html` + ${text(price?.setUp ?? "0")} ${words.once}`}
          ${plan.trialDays !== null && html` (${plan.trialDays} ${words.trial}: ${text(price?.trial ?? "0")})`}
        </p>
        <label>${words.email} <input name="email" type="email" value="ida@example.org" required /></label>
        <p><button name="plan" value="${plan.plan}">${words.subscribe}</button></p>
      </form>`;
    })}`;
};

import { useState } from "react";
import { data, useFetcher } from "react-router";
import {
  besideOthers,
  entryOf,
  readStorefront,
  type StorefrontEntry,
  type StorefrontReading,
  type Touched,
  touchedBy,
} from "#core/storefronts/storefront";
import { saysTheSame } from "#core/merge";
import { settingsInUse } from "#server/storefronts/in-use";
import { editStorefront, setMoneyTerms } from "#server/storefronts/storefronts";
import { forbidsFees } from "#core/offers/charge";
import { moneyBesideOthers, moneyEntryOf, readMoneyTerms } from "#core/storefronts/money-terms";
import type { Problem } from "#core/said";
import type { Storefront } from "#server/database/rows";
import { type Context, personContext } from "../context";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { mustOperate, mustOwn } from "../people/session";
import { useAnswer } from "../parts/answer";
import { Ask } from "../parts/ask";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Mono, PageHead, Small, Stack } from "../parts/sheet";
import { MoneySettings, type MoneyShown } from "./money-settings";
import { entryFrom, NarrowSheet, StorefrontFields } from "./storefront-form";
import type { Spoken, SpokenProblem } from "../words/speak";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/settings";
import { t } from "../words/pages/storefronts";

export const meta: Route.MetaFunction = () => [{ title: t("settings-of-the-storefront-zahlung") }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const { storefront } = await mustStandAt(context, params.storefront);
  const { id, country, currencies, money } = storefront;
  return spoken({
    id,
    owner: context.get(personContext).role === "owner",
    forbidden: forbidsFees(country),
    currencies,
    money: moneyEntryOf(money, currencies),
    entry: entryOf(storefront),
  });
}

type Answer =
  | { ok: true; entry?: StorefrontEntry; money?: MoneyShown }
  | {
      ok: false;
      problems: SpokenProblem[];
      touched: Spoken<Touched>[];
      /** What somebody else has set about money meanwhile. */
      money?: MoneyShown;
      /** Somebody saved in the same moment; the next press looks at what they made of it. */
      late?: true;
    };

/** An owner says what becomes of money that comes late, and which refunds want two people. */
async function setMoney(context: Context, storefront: Storefront, form: FormData) {
  const { rt, person } = mustOwn(context);
  const { currencies } = storefront;
  const now = moneyEntryOf(storefront.money, currencies);
  const sent = (before: string) =>
    Object.fromEntries(
      Object.keys(now).map((name) => [name, String(form.get(`${before}${name}`) ?? "").slice(0, 30)]),
    );
  const refused = (problems: Problem[]) => ({ ok: false as const, problems: spoken(problems), touched: [] });
  const beside = moneyBesideOthers(form.has("began-late") ? sent("began-") : now, sent(""), now);
  // Said once; whoever saves again knows it.
  if (beside.problems.length > 0)
    return data<Answer>({ ...refused(beside.problems), money: now }, { status: 409 });
  const { late = "", fees = "" } = beside.entry;
  const amounts = Object.fromEntries(
    currencies.map((currency) => [currency, beside.entry[`from-${currency}`] ?? ""]),
  );
  const reading = readMoneyTerms({ late, fees }, amounts, localeOf(storefront));
  if (!reading.ok) return data<Answer>(refused(reading.problems), { status: 422 });
  const { value } = reading;
  if (!(await setMoneyTerms(rt, person.email, storefront.id, value, storefront.money)))
    return data<Answer>({ ...refused([]), late: true }, { status: 409 });
  return data<Answer>({ ok: true, money: moneyEntryOf(value, currencies) });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const now = await mustStandAt(context, params.storefront);
  const form = await request.formData();
  if (form.get("press") === "money") return setMoney(context, now.storefront, form);
  const mine = entryFrom(form);
  const others = entryOf(now.storefront);
  const began = form.has("began-name") ? entryFrom(form, "began-") : others;
  const beside = besideOthers(began, mine, others);
  const reading = readStorefront(beside.entry, []);
  if (!reading.ok)
    return data<Answer>({ ok: false, problems: spoken(reading.problems), touched: [] }, { status: 422 });
  const { storefront: before } = now;
  // A group whose name stays keeps the id that the shop knows it by.
  const groups = reading.value.groups.map((one) => before.groups.find((was) => was.name === one.name) ?? one);
  const after: StorefrontReading = { ...reading.value, id: before.id, groups };
  const touched = spoken([...beside.touched, ...touchedBy(before, after, settingsInUse(now))]);
  const barred = touched.some((one) => one.bars);
  // What a change touches is said first, and the change made when it is pressed again knowing that.
  const known = form.get("known") === JSON.stringify(touched.map((one) => one.says));
  if (barred || (touched.length > 0 && !known))
    return data<Answer>({ ok: false, problems: [], touched }, { status: 409 });
  if (!(await editStorefront(rt, person.email, before, after)))
    return data<Answer>({ ok: false, problems: [], touched: [], late: true }, { status: 409 });
  return data<Answer>({ ok: true, entry: entryOf(after) });
}

export default function Settings({ loaderData }: Route.ComponentProps) {
  // Another storefront's settings are another form.
  return <SettingsForm key={loaderData.id} loaderData={loaderData} />;
}

function SettingsForm({ loaderData }: Pick<Route.ComponentProps, "loaderData">) {
  const fetcher = useFetcher<Answer>();
  const [answered, setAnswered] = useState<Answer | null>(null);
  const [sent, setSent] = useState<FormData | null>(null);
  // What is in the boxes is told apart from what others save meanwhile by what it began with.
  const [began, setBegan] = useState<StorefrontEntry>(loaderData.entry);
  const [drawn, setDrawn] = useState(0);
  const answer = fetcher.data;
  useAnswer(answer, (one) => {
    if (!one.ok || !one.entry) return;
    setBegan(one.entry);
    // Where what is saved reads otherwise than what was sent, the boxes are drawn anew.
    if (sent && !saysTheSame(one.entry, entryFrom(sent))) setDrawn((before) => before + 1);
  });
  const refused = answer && !answer.ok ? answer : null;
  const barred = refused?.touched.some((one) => one.bars) ?? false;
  const asking = refused && refused.touched.length > 0 && refused !== answered && !barred;
  const close = () => setAnswered(answer ?? null);
  const send = (form: FormData) => {
    setSent(form);
    void fetcher.submit(form, { method: "post" });
  };
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("settings-of-the-storefront")}</h1>
          <p>{t("the-shop-knows-it-as", { mono: <Mono>{loaderData.id}</Mono> })}</p>
        </div>
      </PageHead>
      <Stack $gap={1.3}>
        <NarrowSheet>
          <form
            method="post"
            noValidate
            onSubmit={(event) => {
              event.preventDefault();
              send(new FormData(event.currentTarget));
            }}
          >
            <Stack>
              {Object.entries(began).map(([name, text]) => (
                <input key={name} type="hidden" name={`began-${name}`} value={text} />
              ))}
              <StorefrontFields key={drawn} entry={began} problems={refused?.problems ?? []} />
              {refused?.late && <Note meaning="wrong">{t("not-saved-somebody-saved")}</Note>}
              {barred && (
                <Note meaning="wrong">
                  <strong>{t("not-saved")}</strong>
                  <ul>
                    {refused?.touched
                      .filter((one) => one.bars)
                      .map((one) => (
                        <li key={one.says}>{one.says}</li>
                      ))}
                  </ul>
                </Note>
              )}
              {answer?.ok && fetcher.state === "idle" && <Note meaning="proven">{t("saved")}</Note>}
              <div>
                <Button $kind="main" disabled={fetcher.state !== "idle"}>
                  {t("save")}
                </Button>
              </div>
              <Small>{t("what-a-change-would-touch")}</Small>
            </Stack>
          </form>
        </NarrowSheet>
        {loaderData.owner && (
          <MoneySettings
            money={loaderData.money}
            currencies={loaderData.currencies}
            forbidden={loaderData.forbidden}
          />
        )}
      </Stack>
      {asking && sent && (
        <Ask
          title={t("save-these-settings")}
          says={
            <ul>
              {refused.touched.map((one) => (
                <li key={one.says}>{one.says}</li>
              ))}
            </ul>
          }
          onClose={close}
        >
          <Button
            type="button"
            $kind="main"
            onClick={() => {
              close();
              sent.set("known", JSON.stringify(refused.touched.map((one) => one.says)));
              send(sent);
            }}
          >
            {t("save-them")}
          </Button>
          <Button type="button" onClick={close}>
            {t("not-yet")}
          </Button>
        </Ask>
      )}
    </>
  );
}

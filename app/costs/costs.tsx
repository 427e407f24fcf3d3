import { lazy, Suspense, useEffect, useState } from "react";
import { data, Link } from "react-router";
import { styled } from "styled-components";
import type { Priced } from "#core/costs/fees";
import { meanTotal, ordersOf } from "#core/costs/orders";
import { readVolume } from "#core/costs/read-volume";
import { moneyText } from "#core/money/money";
import { planOf, saveFees, saveVolume, seenTotals } from "#server/costs/plan";
import { runtimeContext } from "../context";
import { localeOf, mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Note } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { CostTable, SetTable } from "./cost-tables";
import { FeesForm, type FeesAnswer, feesFrom } from "./fees-form";
import { VolumeForm, volumeFrom, type VolumeAnswer } from "./volume-form";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/costs";
import { t } from "../words/pages/costs";

export const meta: Route.MetaFunction = () => [{ title: t("costs-zahlung") }];

const currencyOf = (request: Request) => new URL(request.url).searchParams.get("currency");

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const plan = await planOf(rt, storefront, {}, currencyOf(request));
  const { volume } = plan;
  const seen = await seenTotals(rt, storefront.id, volume.currency);
  return spoken({
    storefront: storefront.name,
    currencies: storefront.currencies,
    locale: localeOf(storefront),
    volume,
    said: plan.said,
    mean: Math.round(meanTotal(ordersOf(volume))),
    seen: seen.reduce((all, [, times]) => all + times, 0),
    clashes: plan.chosen.clashes,
    set: plan.chosen.cost,
    crossings: plan.chosen.crossings,
    providers: plan.providers
      .filter((one) => one.priced.length > 0)
      .map(({ profile, priced, costs, subject, agreed, connections, ridesOn }) => ({
        id: profile.id,
        name: profile.name,
        subject: connections[0]?.id ?? profile.id,
        agreed: agreed && subject !== null,
        payout: profile.payout,
        ridesOn,
        schedule: priced[0]?.schedule ?? profile.fees,
        names: Object.fromEntries(profile.methods.map((method) => [method.id, method.name])),
        priced: priced.map(({ profile: { id, name }, method, schedule, fees, converted, carrier }) => ({
          profile: { id, name },
          method: { id: method.id, name: method.name, kind: method.kind },
          schedule,
          fees,
          converted,
          ...(carrier && { carrier }),
        })),
        costs: costs.flatMap((one) => (one.cost ? [{ method: one.method, cost: one.cost }] : [])),
      })),
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const plan = await planOf(rt, storefront, {}, currencyOf(request));
  const { currency } = plan.volume;
  switch (form.get("press")) {
    case "volume": {
      if (form.get("use") === "seen")
        form.set(
          "counted",
          JSON.stringify({
            kind: "orders",
            from: "payments",
            counted: await seenTotals(rt, storefront.id, currency),
          }),
        );
      const reading = readVolume(volumeFrom(form, currency, localeOf(storefront)));
      if (!reading.ok)
        return data<VolumeAnswer>({ ok: false, problems: spoken(reading.problems) }, { status: 422 });
      await saveVolume(rt, person.email, storefront.id, reading.value);
      return { ok: true } satisfies VolumeAnswer;
    }
    case "agree":
    case "disagree": {
      const subject = String(form.get("subject") ?? "");
      const provider = plan.providers.find(
        (one) =>
          one.profile.id === subject || one.connections.some((connection) => connection.id === subject),
      );
      if (!provider) throw data(t("there-is-no-such-provider"), { status: 404 });
      if (form.get("press") === "disagree") {
        await saveFees(rt, person.email, storefront.id, provider.subject ?? subject, null);
        return { ok: true } satisfies FeesAnswer;
      }
      const reading = feesFrom(
        form,
        provider.priced[0]?.schedule ?? provider.profile.fees,
        currency,
        localeOf(storefront),
      );
      if (!reading.ok) return data<FeesAnswer>({ ok: false, says: reading.says }, { status: 422 });
      await saveFees(rt, person.email, storefront.id, subject, reading.schedule);
      return { ok: true } satisfies FeesAnswer;
    }
    default:
      throw data(t("that-cannot-be-done-here"), { status: 400 });
  }
}

const Charts = lazy(() => import("./charts"));

const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.5fr);
  gap: 1.3rem;
  align-items: start;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Provided = styled(Stack)`
  margin-top: 1.3rem;
`;
export default function Costs({ loaderData, params }: Route.ComponentProps) {
  const { providers, volume, set, locale, crossings } = loaderData;
  const text = (minor: number) => moneyText({ amount: Math.round(minor), currency: volume.currency }, locale);
  const priced = providers.flatMap((one) => one.priced);
  return (
    <>
      {loaderData.currencies.length > 1 && (
        <Row as="nav" aria-label={t("currency")} $gap={1}>
          <Small>{t("calculated-in")}</Small>
          {loaderData.currencies.map((one) =>
            one === volume.currency ? (
              <strong key={one} aria-current="true">
                {one}
              </strong>
            ) : (
              <Link key={one} to={`?currency=${one}`}>
                {one}
              </Link>
            ),
          )}
        </Row>
      )}
      <PageHead>
        <div>
          <h1>{t("what-it-would-cost-storefront", { storefront: loaderData.storefront })}</h1>
          <p>{t("orders-orders-a-month-of", { orders: volume.orders, mean: text(loaderData.mean) })}</p>
        </div>
      </PageHead>
      <Halves>
        <Sheet aria-label={t("what-you-sell")}>
          <Stack>
            <h2>{t("what-you-sell")}</h2>
            <VolumeForm
              key={JSON.stringify(volume)}
              volume={volume}
              said={loaderData.said}
              seen={loaderData.seen}
            />
          </Stack>
        </Sheet>
        <Stack $gap={1.1}>
          {loaderData.clashes.map((clash) => (
            <Note key={clash.says} meaning={clash.blocking ? "wrong" : "waits"}>
              {clash.says} {clash.wayOut}
            </Note>
          ))}
          <Sheet aria-label={t("the-chosen-set")}>
            <Stack $gap={0.6}>
              <h2>{t("all-on-the-list-together")}</h2>
              {providers.length === 0 ? (
                <p>
                  {t("put-providers-on-the-shortlist", {
                    link: (inner) => <Link to={`/s/${params.storefront}/plan`}>{inner}</Link>,
                  })}
                </p>
              ) : (
                <SetTable set={set} text={text} />
              )}
              {crossings.flatMap((pair) =>
                pair.found.map((one) => (
                  <p key={`${pair.a}${pair.b}${one.by}${one.at}`}>
                    {one.by === "average"
                      ? t("below-is-cheaper-below-an", {
                          below: one.below,
                          at: text(one.at),
                          above: one.above,
                        })
                      : t("below-is-cheaper-below-at", { below: one.below, at: one.at, above: one.above })}
                  </p>
                )),
              )}
            </Stack>
          </Sheet>
          {priced.length > 0 && (
            <Sheet aria-label={t("by-the-average-order")}>
              <Stack $gap={0.6}>
                <h2>{t("what-an-order-costs-as")}</h2>
                <InBrowser>
                  <Suspense fallback={<Small>{t("drawing")}</Small>}>
                    <Charts priced={priced as Priced[]} volume={volume} locale={locale} />
                  </Suspense>
                </InBrowser>
              </Stack>
            </Sheet>
          )}
        </Stack>
      </Halves>
      <Provided>
        {providers.map((one) => (
          <Sheet key={one.id} aria-label={one.name}>
            <Stack $gap={0.7}>
              <h2>{one.name}</h2>
              <Small>
                {t("says-calculated-with-the-fees", {
                  says: one.payout.says,
                  hasAgreed: one.agreed ? "yes" : "no",
                  ridesOn: one.ridesOn && t("what-rides-on-takes-of", { ridesOn: one.ridesOn }),
                })}
              </Small>
              {one.costs.map(({ method, cost }) => (
                <CostTable key={method} name={one.names[method] ?? method} cost={cost} text={text} />
              ))}
              {one.schedule.oneOff[volume.currency] ? (
                <p>
                  {t("once-at-the-beginning-one", {
                    oneOff: text(one.schedule.oneOff[volume.currency] ?? 0),
                  })}
                </p>
              ) : null}
              <details>
                <summary>{t("other-fees-were-agreed-on")}</summary>
                <FeesForm
                  key={JSON.stringify(one.schedule)}
                  subject={one.subject}
                  schedule={one.schedule}
                  currency={volume.currency}
                  agreed={one.agreed}
                  names={one.names}
                />
              </details>
            </Stack>
          </Sheet>
        ))}
      </Provided>
    </>
  );
}

/** Charts draw themselves in the browser only. */
function InBrowser({ children }: { children: React.ReactNode }) {
  const [there, setThere] = useState(false);
  useEffect(() => setThere(true), []);
  return there ? children : <Small>{t("drawn-once-the-pages-scripts")}</Small>;
}

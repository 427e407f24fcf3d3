import { Link } from "react-router";
import { occurringStates } from "#core/payments/stages";
import { methodOf } from "#core/profiles/profile";
import { canBeTold, nearestLocale } from "#core/profiles/telling";
import { servedBy } from "#server/connections/connections";
import { carrierOf } from "#server/offers/carrier";
import { runsInLive } from "#server/storefronts/now";
import { Row } from "../parts/sheet";
import { When } from "../parts/when";
import { spoken } from "../words/spoken.server";
import { MoneyPath } from "./money-path";
import { OfferSheet } from "./offer-sheet";
import { ButtonFields } from "./button-fields";
import { KeepFields } from "./keep-fields";
import { NoticeFields } from "./notice-fields";
import { mustFindOffer, pressedOn, sheetView } from "./sheet-view.server";
import { RepeatFields } from "./repeats/repeat-fields";
import { TellingFields, type TellingView } from "./telling-fields";
import { More, SwitchOff } from "./switches";
import type { Route } from "./+types/edit-offer";
import { t } from "../words/pages/offers";

export const meta: Route.MetaFunction = () => [{ title: t("offer-zahlung") }];

export async function loader(args: Route.LoaderArgs) {
  const here = await mustFindOffer(args.context, args.params, "provider");
  const { rt, now, found } = here;
  const { offer, profile, connection } = found;
  const served = await servedBy(rt, connection.id);
  const { refund = false, partialRefund = false } = methodOf(profile, offer.methodId) ?? {};
  const can = { refund, partialRefund };
  const teller = carrierOf(now, profile, "test")?.offer ?? found;
  return spoken({
    ...(await sheetView(here, args, (id) => served.includes(id))),
    runsInLive: runsInLive(found),
    account: connection.name,
    telling: {
      provider: teller.profile.name,
      can: canBeTold(teller.profile),
      needs: methodOf(teller.profile, teller.offer.methodId)?.needs ?? [],
      languages: now.storefront.languages.map((language) => ({
        language,
        speaks: nearestLocale(profile, language),
      })),
    } satisfies TellingView,
    provider: profile.name,
    ridesOn: carrierOf(now, profile, "test")?.offer.connection.name ?? null,
    states: { "at-once": occurringStates("at-once", can), later: occurringStates("later", can) },
  });
}

export const action = (args: Route.ActionArgs) => pressedOn("provider", args);

export default function EditOffer({ loaderData }: Route.ComponentProps) {
  const { name, account, off, working, live, terms } = loaderData;
  return (
    <OfferSheet
      view={loaderData}
      provider={loaderData.provider}
      statesOf={(draft) => loaderData.states[draft.capture]}
      way={(part) => (
        <>
          <MoneyPath {...part} terms={terms} />
          {terms.keeps && <KeepFields {...part} provider={loaderData.provider} />}
          {terms.repeats && <RepeatFields {...part} terms={terms} timeZone={loaderData.timeZone} />}
          {terms.button && <ButtonFields {...part} provider={loaderData.provider} terms={terms.button} />}
          {terms.quotes && <NoticeFields {...part} provider={loaderData.provider} />}
          <TellingFields {...part} telling={loaderData.telling} />
        </>
      )}
      head={
        <>
          <h1>{t("name-through-account", { name, account })}</h1>
          <p>
            {t("working-revision-number-saved-when", {
              number: working.number,
              when: <When at={working.at} />,
              person: working.person,
              live: live ? t("revision-number", { number: live.number }) : t("nothing-yet"),
              ridesOn:
                loaderData.ridesOn && t("its-money-moves-through-rides", { ridesOn: loaderData.ridesOn }),
            })}
          </p>
          <p>
            {t("see-what-the-provider-is", {
              link: (inner) => <Link to="told">{inner}</Link>,
              revisions: (inner) => <Link to="revisions">{inner}</Link>,
            })}
          </p>
        </>
      }
      presses={
        <>
          <Row $gap={1}>
            <SwitchOff mode="test" off={off.test} />
            {loaderData.runsInLive && <SwitchOff mode="live" off={off.live} />}
          </Row>
          <More
            live={loaderData.runsInLive && !off.live}
            open={loaderData.open}
            elsewhere={loaderData.elsewhere}
            label={t("name-through-account", { name, account })}
          />
        </>
      }
    />
  );
}

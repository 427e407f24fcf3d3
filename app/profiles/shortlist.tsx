import { Link } from "react-router";
import { styled } from "styled-components";
import { decimalText } from "#core/money/money";
import { planOf } from "#server/costs/plan";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/shortlist";
import { t } from "../words/pages/profiles";

export const meta: Route.MetaFunction = () => [{ title: t("shortlist-zahlung") }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const plan = await planOf(rt, storefront);
  const { currency } = plan.volume;
  return spoken({
    name: storefront.name,
    clashes: plan.chosen.clashes,
    providers: plan.providers
      .filter((one) => one.listed)
      .map(({ profile, fit, costs, connections }) => ({
        id: profile.id,
        name: profile.name,
        about: profile.about,
        because: [...fit.because, ...fit.notes],
        connected: connections.length > 0,
        apply: profile.review?.apply ?? null,
        meanwhile: profile.review?.meanwhile ?? null,
        payout: profile.payout.says,
        atHand: profile.atHand,
        dashboards: profile.modes,
        fields: profile.fields.map(({ label, where, shownOnce }) => ({ label, where, shownOnce })),
        file: profile.file?.name ?? null,
        hooks: profile.webhooks !== undefined,
        costs: costs.map(({ method, cost }) => ({
          name: profile.methods.find((one) => one.id === method)?.name ?? method,
          perOrder: cost
            ? `${decimalText({ amount: Math.round(cost.perOrder), currency })} ${currency}`
            : null,
        })),
      })),
  });
}

const Task = styled.li`
  display: grid;
  grid-template-columns: 1.1rem minmax(0, 1fr);
  gap: 0.6rem;
  padding: 0.2rem 0;
  &::before {
    content: "";
    width: 0.95rem;
    height: 0.95rem;
    margin-top: 0.22em;
    border: 1.5px solid ${color.ink};
  }
`;
const Columns = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.6rem 2rem;
  @media (max-width: 50rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Paper = styled(Sheet)`
  break-inside: avoid;
  & + & {
    margin-top: 1rem;
  }
`;

/** What to have at hand for each provider on the list: kept with the storefront, and made to be printed. */
export default function Shortlist({ loaderData, params }: Route.ComponentProps) {
  const { providers, clashes, name } = loaderData;
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("what-to-have-at-hand", { name })}</h1>
          <p>{t("for-each-provider-on-the")}</p>
        </div>
        {providers.length > 0 && (
          <Button type="button" onClick={() => window.print()} className="screen-only">
            {t("print")}
          </Button>
        )}
      </PageHead>
      {clashes.map((clash) => (
        <Note key={clash.says} meaning={clash.blocking ? "wrong" : "waits"}>
          {clash.says} {clash.wayOut}
        </Note>
      ))}
      {providers.length === 0 && (
        <Sheet>
          <Stack>
            <p>{t("nothing-is-on-the-shortlist")}</p>
            <Link to={`/s/${params.storefront}/plan`}>{t("find-providers")}</Link>
          </Stack>
        </Sheet>
      )}
      {providers.map((one) => (
        <Paper key={one.id} aria-label={one.name}>
          <Stack $gap={0.7}>
            <h2>{one.name}</h2>
            <p>{one.about}</p>
            {one.because.map((says) => (
              <Small key={says}>{says}.</Small>
            ))}
            <Columns>
              <div>
                <h3>{t("before-you-start")}</h3>
                <ul>
                  {one.atHand.map((thing) => (
                    <Task key={thing}>
                      <span>{thing}</span>
                    </Task>
                  ))}
                  {one.apply && (
                    <Task>
                      <span>{t("the-account-apply", { apply: one.apply })}</span>
                    </Task>
                  )}
                </ul>
                {one.meanwhile && <Small>{one.meanwhile}</Small>}
              </div>
              <div>
                <h3>{t("to-carry-across-for-test")}</h3>
                <ul>
                  {one.fields.map((field) => (
                    <Task key={field.label}>
                      <span>
                        {t("label-shown-only-once", {
                          label: field.label,
                          hasShownOnce: field.shownOnce ? "yes" : "no",
                        })}{" "}
                        <Small as="span">{field.where}</Small>
                      </span>
                    </Task>
                  ))}
                  {one.hooks && (
                    <Task>
                      <span>{t("the-webhook-address-from-zahlung", { name: one.name })}</span>
                    </Task>
                  )}
                  {one.file && (
                    <Task>
                      <span>{t("the-file-from-name-to", { file: one.file, name: one.name })}</span>
                    </Task>
                  )}
                </ul>
              </div>
            </Columns>
            <Small>{one.payout}</Small>
            <Small>
              {one.costs
                .map(
                  (cost) =>
                    `${cost.name}: ${cost.perOrder ? t("per-order-an-order", { perOrder: cost.perOrder }) : t("not-in-this-currency")}`,
                )
                .join("; ")}
            </Small>
          </Stack>
        </Paper>
      ))}
    </>
  );
}

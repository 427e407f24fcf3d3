import { data, Form, Link, useActionData, useNavigation } from "react-router";
import { styled } from "styled-components";
import { type AlikePart, alikeParts, isAlikePart, partsOfBoth } from "#core/offers/alike";
import { previewAlike, saveAlike } from "#server/offers/alike";
import { nameOf } from "#server/offers/names";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { CheckBox } from "../parts/check-box";
import { Button, FieldSet, Wrong } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { mustOperate } from "../people/session";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/alike-page";
import { bothValues } from "./changed";
import { settingWords } from "./change-words";
import { t } from "../words/pages/offers-alike";

export const meta: Route.MetaFunction = () => [{ title: t("several-at-once-zahlung") }];

const partNames: Record<AlikePart, string> = {
  countries: t("shopper-countries"),
  currencies: t("currencies"),
  groups: t("shopper-groups"),
  limits: t("least-and-greatest-total"),
  rules: t("further-conditions"),
  charge: t("what-choosing-it-costs-or"),
  capture: t("when-it-is-captured"),
  "hold-back": t("what-a-person-looks-at"),
  authentication: t("strong-authentication"),
  trouble: t("while-the-provider-does-not"),
  telling: t("what-the-provider-is-told"),
  statement: t("statement-text"),
  "order-number": t("around-the-order-number-at"),
  stages: t("order-stages"),
  afterwards: t("what-is-said-afterwards"),
  account: t("account-that-shoppers-transfer-to"),
  due: t("when-money-is-due-and"),
};

const wishIn = (given: { get: (name: string) => unknown; getAll: (name: string) => unknown[] }) => ({
  source: String(given.get("as") ?? ""),
  parts: given.getAll("part").map(String).filter(isAlikePart),
  targets: given.getAll("offer").map(String),
});

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const wish = wishIn(new URL(request.url).searchParams);
  const source = now.inOrder.find(({ offer }) => offer.id === wish.source) ?? now.inOrder[0];
  const locale = localeOf(now.storefront);
  const asked = wish.source !== "" && wish.parts.length > 0 && wish.targets.length > 0;
  return spokenIn(locale).spoken({
    locale,
    source: source ? { id: source.offer.id, name: nameOf(source), revision: source.working.number } : null,
    offers: now.inOrder.map((one) => ({
      id: one.offer.id,
      name: nameOf(one),
      account: one.way === "provider" ? one.connection.name : t("without-a-provider"),
      parts: partsOfBoth(one.working.document, one.working.document),
    })),
    ...{ parts: wish.parts, targets: wish.targets },
    lines: asked ? previewAlike(now, wish) : null,
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const form = await request.formData();
  const seen = form.getAll("seen").map((one) => String(one).split(" "));
  const revisions = Object.fromEntries(seen.map(([id, number]) => [id, Number(number)]));
  const saved = await saveAlike(rt, person.email, storefront.id, wishIn(form), revisions);
  const { say } = spokenIn(localeOf(storefront));
  return saved.ok
    ? { saved: saved.saved, left: saved.left.map(say), problem: null }
    : data({ saved: 0, left: [], problem: saved.problems.map(say).join(" ") }, { status: 409 });
}

const Columns = styled.div`
  columns: 16rem;
  column-gap: 1.5rem;
  label {
    display: flex;
    break-inside: avoid;
  }
`;

type Loaded = Route.ComponentProps["loaderData"];

/** Parts of one offer set the same for others: chosen, looked at, and saved in one act. */
export default function Alike({ loaderData, params }: Route.ComponentProps) {
  const { source, offers, parts, targets, lines } = loaderData;
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  const others = offers.filter(({ id }) => id !== source?.id);
  // Whichever of them is taken from: what no two of them have cannot be set the same.
  const may = (part: AlikePart) => offers.filter((one) => one.parts.includes(part)).length > 1;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("several-at-once")}</h1>
          <p>{t("what-one-offer-says-is")}</p>
        </div>
      </PageHead>
      {answer && answer.saved > 0 && (
        <Note meaning="proven">
          {t("saved-offers-are-saved", { saved: answer.saved })}
          {answer.left.map((says) => (
            <p key={says}>{says}</p>
          ))}
        </Note>
      )}
      <Wrong>{answer?.problem}</Wrong>
      {!source || others.length === 0 ? (
        <Sheet>
          <Row>
            <p>{t("nothing-is-offered-yet", { hasSource: source ? "yes" : "no" })}</p>
            <Button as={Link} to={`/s/${params.storefront}/offer?add=1`} $kind="main">
              {t("offer-something", { hasSource: source ? "yes" : "no" })}
            </Button>
          </Row>
        </Sheet>
      ) : (
        <Sheet>
          {/* Anew for each look: what is ticked is what the address says. */}
          <Form method="get" key={[source.id, ...parts, ...targets].join()} preventScrollReset>
            <Stack>
              <SelectBox
                label={t("as-it-is-set-for")}
                name="as"
                defaultValue={source.id}
                choices={offers.map((one) => ({ id: one.id, name: `${one.name} (${one.account})` }))}
              />
              <FieldSet>
                <legend>{t("set-the-same")}</legend>
                <Columns>
                  {(Object.keys(alikeParts) as AlikePart[]).map((part) => (
                    <CheckBox
                      key={part}
                      name="part"
                      value={part}
                      defaultChecked={parts.includes(part)}
                      disabled={!may(part) && !parts.includes(part)}
                    >
                      {partNames[part]}
                    </CheckBox>
                  ))}
                </Columns>
              </FieldSet>
              <FieldSet>
                <legend>{t("for")}</legend>
                <Columns>
                  {offers.map((one) => (
                    <CheckBox
                      key={one.id}
                      name="offer"
                      value={one.id}
                      defaultChecked={targets.length === 0 ? one.id !== source.id : targets.includes(one.id)}
                    >
                      <span>
                        {one.name} <Small as="span">{one.account}</Small>
                      </span>
                    </CheckBox>
                  ))}
                </Columns>
              </FieldSet>
              <Row>
                <Button disabled={busy}>{t("look-at-what-it-changes")}</Button>
                {parts.length === 0 && targets.length > 0 && <Small>{t("tick-what-is-to-be")}</Small>}
              </Row>
            </Stack>
          </Form>
        </Sheet>
      )}
      {source && lines && <Preview loaded={loaderData} source={source} lines={lines} busy={busy} />}
    </Stack>
  );
}

/** What would change, offer by offer, and the press that saves all of it. */
function Preview({
  loaded: { locale, parts },
  source,
  lines,
  busy,
}: {
  loaded: Loaded;
  source: NonNullable<Loaded["source"]>;
  lines: NonNullable<Loaded["lines"]>;
  busy: boolean;
}) {
  const changed = lines.filter((one) => one.changes.length > 0 && one.problems.length === 0);
  const refused = lines.filter((one) => one.problems.length > 0);
  const same = lines.filter((one) => one.changes.length === 0);
  return (
    <Sheet aria-label={t("what-it-changes")}>
      <Stack>
        <h2>{t("what-it-changes")}</h2>
        {changed.length > 0 && (
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("offer")}</th>
                <th scope="col">{t("setting")}</th>
                <th scope="col">{t("now")}</th>
                <th scope="col">{t("then")}</th>
              </tr>
            </thead>
            <tbody>
              {changed.flatMap((one) =>
                one.changes.map((change, i) => {
                  const [now, then] = bothValues(change, locale);
                  return (
                    <tr key={`${one.offerId} ${change.path}`}>
                      <td>{i === 0 && <strong>{one.name}</strong>}</td>
                      <td>{settingWords(change.path)}</td>
                      <td>{now}</td>
                      <td>{then}</td>
                    </tr>
                  );
                }),
              )}
            </tbody>
          </Table>
        )}
        {refused.map((one) => (
          <Says key={one.offerId} meaning="wrong">
            {t("name-stays-as-it-is", {
              name: one.name,
              problems: one.problems.map(({ says }) => says).join(" "),
            })}
          </Says>
        ))}
        {same.length > 0 && (
          <Small>
            {t("same-each-says-so-already", {
              same: same.map(({ name }) => name).join(", "),
              count: same.length,
            })}
          </Small>
        )}
        {changed.length > 0 && (
          <Form method="post" preventScrollReset>
            <input type="hidden" name="as" value={source.id} />
            <input type="hidden" name="seen" value={`${source.id} ${source.revision}`} />
            {parts.map((part) => (
              <input key={part} type="hidden" name="part" value={part} />
            ))}
            {changed.map((one) => (
              <span key={one.offerId}>
                <input type="hidden" name="offer" value={one.offerId} />
                <input type="hidden" name="seen" value={`${one.offerId} ${one.revision}`} />
              </span>
            ))}
            <Button $kind="main" disabled={busy}>
              {t("save-it-for-changed-offers", { changed: changed.length, name: changed[0]?.name ?? "" })}
            </Button>
          </Form>
        )}
      </Stack>
    </Sheet>
  );
}

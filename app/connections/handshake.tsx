import { ExternalLink } from "lucide-react";
import { data } from "react-router";
import { styled } from "styled-components";
import { type Mode, modes } from "#core/mode";
import { connectionServing, servedBy } from "#server/connections/connections";
import { lossOf } from "#server/connections/disconnect";
import { columnOf, versionsOfSides } from "#server/connections/handshake";
import { allStorefronts } from "#server/storefronts/storefronts";
import { type Context, runtimeContext } from "../context";
import { mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { useLive } from "../parts/live";
import { ModePlate, Note } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { color, hatch } from "../theme/tokens";
import { AccountCell } from "./account-cell";
import { ConnectionHead } from "./connection-head";
import { FileCell } from "./file-cell";
import { KeyCell } from "./key-cell";
import { VersionNote } from "./version-note";
import { LinkCell } from "./link-cell";
import { PasteSeveral } from "./paste-several";
import { press } from "./presses";
import { WebhookCell } from "./webhook-cell";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/handshake";
import { t } from "../words/pages/connections";

export const meta: Route.MetaFunction = () => [{ title: t("connect-zahlung") }];

async function mustFindConnection(context: Context, storefrontId: string, id: string) {
  const storefront = await mustFindStorefront(context, storefrontId);
  const where = await connectionServing(context.get(runtimeContext), storefront.id, id);
  if (!where) throw data(t("there-is-no-such-connection"), { status: 404 });
  return { storefront, where };
}

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const { storefront, connections: others } = await mustStandAt(context, params.storefront);
  const where = others.find((one) => one.connection.id === params.connection);
  if (!where) throw data(t("there-is-no-such-connection"), { status: 404 });
  const { connection, profile } = where;
  const served = await servedBy(rt, connection.id);
  const [columns, versions, storefronts, loss] = await Promise.all([
    Promise.all(modes.map((mode) => columnOf(rt, where, storefront, mode, where.keys))),
    versionsOfSides(rt, where),
    allStorefronts(rt),
    lossOf(rt, where, served),
  ]);
  return spoken({
    head: {
      id: connection.id,
      name: connection.name,
      provider: profile.name,
      storefrontId: storefront.id,
      storefronts: storefronts.map(({ id, name }) => ({ id, name, served: served.includes(id) })),
      loss,
    },
    versions,
    live: where.liveOn.length > 0,
    name: profile.name,
    storefront: storefront.name,
    dashboards: { test: profile.modes.test.dashboard, live: profile.modes.live.dashboard },
    manner: {
      name: profile.name,
      byHand: profile.webhooks?.byHand ?? [],
      events: profile.webhooks?.events ?? [],
      registers: profile.operations.registerWebhook !== undefined,
      pings: profile.operations.pingWebhook !== undefined,
    },
    review: profile.review ? { apply: profile.review.apply, meanwhile: profile.review.meanwhile } : null,
    links: profile.link !== undefined,
    file: profile.file
      ? { name: profile.file.name, where: profile.file.where, place: profile.file.place ?? null }
      : null,
    fields: profile.fields.map(({ id, label, where: place, place: at, secret, shownOnce }) => ({
      id,
      label,
      place,
      at: at ?? null,
      secret,
      shownOnce,
    })),
    columns,
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront, where } = await mustFindConnection(context, params.storefront, params.connection);
  return press({ rt, person: person.email, where, storefront, form: await request.formData() });
}

const Banks = styled.div`
  display: grid;
  grid-template-columns: minmax(13rem, 1.1fr) minmax(0, 1.6fr) minmax(0, 1.6fr);
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
  > * {
    border-bottom: 1px solid ${color.rule};
    padding: 0.8rem 1rem;
    min-width: 0;
  }
`;
const Head = styled.div<{ $mode?: Mode }>`
  &:first-child {
    padding-left: 0;
  }
  border-bottom: 2px solid ${color.ink};
  ${({ $mode }) => $mode === "test" && `background: ${hatch};`}
`;
const What = styled.div`
  padding-left: 0 !important;
  display: grid;
  gap: 0.25rem;
  align-content: start;
`;
const Crossing = styled.div<{ $mode: Mode }>`
  border-left: 1.5px ${({ $mode }) => ($mode === "test" ? "dashed" : "solid")} ${color.ink};
`;
const Way = styled.span`
  font-size: 0.86rem;
  color: ${color.inkSoft};
`;

type View = Route.ComponentProps["loaderData"];
type ColumnView = View["columns"][number];

/** Two banks with what has to cross between them, and a cell of each for test and for live. */
export default function Handshake({ loaderData }: Route.ComponentProps) {
  const { head, name, columns, fields, dashboards, manner, review, links, file } = loaderData;
  // What the provider tells of the account, or somebody does in another tab, stands here by itself.
  useLive(true, 5_000);
  return (
    <>
      <ConnectionHead head={head} />
      <VersionNote versions={loaderData.versions} name={name} />
      <Sheet>
        <Banks>
          <Head as="div">
            <h2>{t("what-crosses")}</h2>
          </Head>
          {columns.map((column) => (
            <Head key={column.mode} $mode={column.mode}>
              <Stack $gap={0.4}>
                <Row>
                  <ModePlate mode={column.mode} />
                  <a href={dashboards[column.mode]} target="_blank" rel="noreferrer">
                    {t("name-s-live-side", { name, test: column.mode === "test" ? "yes" : "no" })}{" "}
                    <ExternalLink size={13} aria-hidden />
                  </a>
                </Row>
                {column.needsHttps && (
                  <Note meaning="wrong">
                    {t("name-wants-the-shop-reached", {
                      name,
                      mode: column.mode,
                      storefront: loaderData.storefront,
                    })}
                  </Note>
                )}
                <PasteSeveral mode={column.mode} />
              </Stack>
            </Head>
          ))}
          {links && (
            <CrossingRow
              what={t("link-the-account")}
              way={t("from-name-to-here", { name })}
              says={t("the-owner-of-the-account", { name })}
              columns={columns}
              cell={(column) => <LinkCell column={column} name={name} />}
            />
          )}
          {fields.map((field) => (
            <CrossingRow
              key={field.id}
              what={field.label}
              way={t("from-name-to-here", { name })}
              says={field.place}
              once={field.shownOnce}
              columns={columns}
              cell={(column) => (
                <KeyCell
                  mode={column.mode}
                  field={field}
                  place={field.at?.[column.mode] ?? null}
                  cell={column.fields[field.id] ?? { state: "missing" }}
                />
              )}
            />
          ))}
          <CrossingRow
            what={t("account-read-back")}
            says={t("what-name-says-about-the", { name })}
            columns={columns}
            cell={(column) => <AccountCell column={column} name={name} review={review} />}
          />
          {columns[0]?.webhook && (
            <CrossingRow
              what={
                columns[0].webhook.secretHint ? t("webhook-address-and-signing-secret") : t("webhook-address")
              }
              way={t("from-here-to-name", { name })}
              says={t("it-carries-the-news-of", {
                hasSecretHint: columns[0].webhook.secretHint ? "yes" : "no",
                name,
              })}
              columns={columns}
              cell={(column) =>
                column.webhook && (
                  <WebhookCell
                    column={column}
                    webhook={column.webhook}
                    manner={manner}
                    live={loaderData.live && column.mode === "live"}
                  />
                )
              }
            />
          )}
          {file && (
            <CrossingRow
              what={t("the-name", { name: file.name })}
              way={t("from-name-and-on-to", { name })}
              says={t("where-there-is-one-for", { where: file.where, name })}
              columns={columns}
              cell={(column) => column.file && <FileCell column={column} file={column.file} name={name} />}
            />
          )}
        </Banks>
      </Sheet>
    </>
  );
}

function CrossingRow({
  what,
  way,
  says,
  once = false,
  columns,
  cell,
}: {
  what: string;
  way?: string;
  says: string;
  once?: boolean;
  columns: View["columns"];
  cell: (column: ColumnView) => React.ReactNode;
}) {
  return (
    <>
      <What>
        <h3>{what}</h3>
        {way && <Way>{way}</Way>}
        <Small>{says}</Small>
        {once && <Small>{t("it-is-shown-once-only")}</Small>}
      </What>
      {columns.map((column) => (
        <Crossing key={column.mode} $mode={column.mode}>
          {cell(column)}
        </Crossing>
      ))}
    </>
  );
}

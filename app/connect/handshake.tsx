import { ExternalLink } from "lucide-react";
import { data } from "react-router";
import { styled } from "styled-components";
import { isMode, type Mode, modes } from "#core/mode";
import { fieldOf } from "#core/profiles/profile";
import { connectionServing } from "#server/connections/connections";
import { columnOf } from "#server/connections/handshake";
import { enterKey, proveKeys } from "#server/connections/keys";
import { pingWebhook, registerWebhook, renewWebhook } from "#server/connections/webhook";
import { type Context, runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { ModePlate } from "../parts/marks";
import { PageHead, Row, Sheet, Small } from "../parts/sheet";
import { color, hatch } from "../theme/tokens";
import { AccountCell } from "./account-cell";
import { KeyCell } from "./key-cell";
import { WebhookCell } from "./webhook-cell";
import type { Route } from "./+types/handshake";

export const meta: Route.MetaFunction = () => [{ title: "Connect · Zahlung" }];

async function mustFindConnection(context: Context, storefrontId: string, id: string) {
  const storefront = await mustFindStorefront(context, storefrontId);
  const found = await connectionServing(context.get(runtimeContext), storefront.id, id);
  if (!found) throw data("There is no such connection here.", { status: 404 });
  return found;
}

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const where = await mustFindConnection(context, params.storefront, params.connection);
  const columns = await Promise.all(modes.map((mode) => columnOf(rt, where, mode)));
  const { profile } = where;
  return {
    name: profile.name,
    dashboards: { test: profile.modes.test.dashboard, live: profile.modes.live.dashboard },
    byHand: profile.webhooks?.byHand ?? [],
    fields: profile.fields.map(({ id, label, where: place, secret, shownOnce }) => ({
      id,
      label,
      place,
      secret,
      shownOnce,
    })),
    columns,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const where = await mustFindConnection(context, params.storefront, params.connection);
  const form = await request.formData();
  const mode = form.get("mode");
  if (!isMode(mode)) throw data("There is no such column.", { status: 400 });
  switch (form.get("press")) {
    case "enter": {
      const field = String(form.get("field") ?? "");
      if (!fieldOf(where.profile, field)) throw data("There is no such field.", { status: 400 });
      const check = await enterKey(rt, person.email, where, mode, field, String(form.get("value") ?? ""));
      if (!check.ok)
        return data({ kept: false as const, says: check.says, trimmed: check.trimmed }, { status: 422 });
      return {
        kept: true as const,
        says: check.trimmed ? "Stray spaces were taken off." : null,
        trimmed: check.trimmed,
      };
    }
    case "prove":
      await proveKeys(rt, where, mode);
      return { kept: true as const, says: null };
    case "register":
      return attempted(await registerWebhook(rt, person.email, where, mode));
    case "ping":
      return attempted(await pingWebhook(rt, where, mode));
    case "renew":
      return attempted(await renewWebhook(rt, person.email, where, mode));
    default:
      throw data("That cannot be done here.", { status: 400 });
  }
}

const attempted = (attempt: { ok: true } | { ok: false; says: string }) =>
  attempt.ok
    ? { kept: true as const, says: null }
    : data({ kept: false as const, says: attempt.says }, { status: 422 });

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

/** Two banks with what has to cross between them, and a cell of each for test and for live. */
export default function Handshake({ loaderData }: Route.ComponentProps) {
  const { name, columns, fields, dashboards, byHand } = loaderData;
  return (
    <>
      <PageHead>
        <div>
          <h1>Handshake with {name}</h1>
          <p>Carry each value across and it is proven by a call at once. Test and live share nothing.</p>
        </div>
      </PageHead>
      <Sheet>
        <Banks>
          <Head as="div">
            <h2>What crosses</h2>
          </Head>
          {columns.map(({ mode }) => (
            <Head key={mode} $mode={mode}>
              <Row>
                <ModePlate mode={mode} />
                <a href={dashboards[mode]} target="_blank" rel="noreferrer">
                  {name}’s {mode === "test" ? "sandbox" : "live side"} <ExternalLink size={13} aria-hidden />
                </a>
              </Row>
            </Head>
          ))}
          {fields.map((field) => (
            <FieldRow key={field.id} field={field} name={name} columns={columns} />
          ))}
          <What>
            <h3>Account read back</h3>
            <Small>What {name} says about the account these keys open, held against the storefront.</Small>
          </What>
          {columns.map((column) => (
            <Crossing key={column.mode} $mode={column.mode}>
              <AccountCell column={column} name={name} />
            </Crossing>
          ))}
          <What>
            <h3>Webhook address and signing secret</h3>
            <Way>from here to {name} →</Way>
            <Small>
              Zahlung makes both. They carry {name}’s news, such as a payment that was decided late.
            </Small>
          </What>
          {columns.map((column) => (
            <Crossing key={column.mode} $mode={column.mode}>
              <WebhookCell column={column} name={name} byHand={byHand} />
            </Crossing>
          ))}
        </Banks>
      </Sheet>
    </>
  );
}

type View = Route.ComponentProps["loaderData"];

function FieldRow({
  field,
  name,
  columns,
}: {
  field: View["fields"][number];
  name: string;
  columns: View["columns"];
}) {
  return (
    <>
      <What>
        <h3>{field.label}</h3>
        <Way>← from {name} to here</Way>
        <Small>{field.place}</Small>
      </What>
      {columns.map(({ mode, fields }) => (
        <Crossing key={mode} $mode={mode}>
          <KeyCell mode={mode} field={field} cell={fields[field.id] ?? { state: "missing" }} />
        </Crossing>
      ))}
    </>
  );
}

import { Form, Link, useSubmit } from "react-router";
import { styled } from "styled-components";
import { supportBundle } from "#core/exchanges/support";
import type { Mode } from "#core/mode";
import { operationNames } from "#core/profiles/profile";
import { connectionsOf } from "#server/connections/connections";
import { keySidesOf } from "#server/connections/key-sides";
import { exchangeFilter, listExchanges } from "#server/exchanges/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { CopyValue } from "../parts/copy";
import { Button, Field, Input, Select } from "../parts/form";
import { ModePlate, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { color, tabular } from "../theme/tokens";
import type { Route } from "./+types/exchanges";

export const meta: Route.MetaFunction = () => [{ title: "Exchanges · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const search = new URL(request.url).searchParams;
  const filter = exchangeFilter(search);
  const [connections, page] = await Promise.all([
    connectionsOf(rt, storefront.id),
    listExchanges(rt, storefront.id, filter, search.get("before")),
  ]);
  const keys = await keySidesOf(rt, connections);
  const accountOf = (connectionId: string | null, mode: Mode) =>
    keys.get(connectionId ?? "")?.[mode].check?.account?.account ?? null;
  const byId = new Map(connections.map((one) => [one.connection.id, one]));
  search.delete("before");
  return {
    filter: Object.fromEntries(search),
    query: search.toString(),
    connections: connections.map(({ connection }) => ({ id: connection.id, name: connection.name })),
    next: page.next,
    rows: page.rows.map((row) => {
      const where = byId.get(row.connectionId ?? "");
      const references = [row.paymentId, row.id].filter((one): one is string => one !== null);
      return {
        ...row,
        connection: where?.connection.name ?? "",
        bundle: supportBundle(
          where?.profile.name ?? "",
          row.mode,
          accountOf(row.connectionId, row.mode),
          references,
          row,
        ),
      };
    }),
  };
}

const Filters = styled(Form)`
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 1rem;
  align-items: end;
`;
const Exchange = styled.details`
  border-bottom: 1px solid ${color.rule};
  summary {
    display: grid;
    grid-template-columns: 9.5rem 4rem minmax(7rem, 1fr) minmax(9rem, 2fr) 8rem 5rem;
    gap: 0.8rem;
    padding: 0.45rem 0;
    align-items: baseline;
    cursor: pointer;
    @media (max-width: 55rem) {
      grid-template-columns: minmax(0, 1fr) auto;
    }
  }
  summary:hover {
    color: ${color.petrol};
  }
`;
const Took = styled.span`
  text-align: right;
  ${tabular}
`;
const Sides = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 1rem;
  padding: 0.3rem 0 1rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Text = styled.pre`
  margin: 0.3rem 0 0;
  padding: 0.6rem;
  background: ${color.sunk};
  font-family: var(--mono);
  font-size: 0.82rem;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  max-height: 24rem;
  overflow-y: auto;
`;

export default function Exchanges({ loaderData, params }: Route.ComponentProps) {
  const { rows, next, query, filter, connections } = loaderData;
  const submit = useSubmit();
  const here = `/s/${params.storefront}/exchanges`;
  return (
    <>
      <PageHead>
        <div>
          <h1>What was said</h1>
          <p>Everything Zahlung and the providers said to each other, secrets and card numbers masked.</p>
        </div>
        <a href={`${here}.har${query ? `?${query}` : ""}`} download>
          Export as HAR
        </a>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters
            method="get"
            role="search"
            aria-label="Exchanges"
            onChange={(event) => void submit(event.currentTarget)}
          >
            <Field>
              Connection
              <Select name="connection" defaultValue={filter.connection ?? ""}>
                <option value="">All</option>
                {connections.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </Select>
            </Field>
            <Field>
              Mode
              <Select name="mode" defaultValue={filter.mode ?? ""}>
                <option value="">Both</option>
                <option value="test">Test</option>
                <option value="live">Live</option>
              </Select>
            </Field>
            <Field>
              Operation
              <Select name="operation" defaultValue={filter.operation ?? ""}>
                <option value="">Any</option>
                {[...operationNames, "token", "link", "domain"].map((name) => (
                  <option key={name} value={name}>
                    {name}
                  </option>
                ))}
              </Select>
            </Field>
            <Field>
              Result
              <Select name="result" defaultValue={filter.result ?? ""}>
                <option value="">Any</option>
                <option value="good">Answered well</option>
                <option value="bad">Refused or failed</option>
              </Select>
            </Field>
            <Field>
              From
              <Input type="date" name="from" defaultValue={filter.from ?? ""} />
            </Field>
            <Field>
              To
              <Input type="date" name="to" defaultValue={filter.to ?? ""} />
            </Field>
            <Button>Show</Button>
          </Filters>
          {rows.length === 0 && <Small>Nothing was said that fits.</Small>}
          <div>
            {rows.map((row) => (
              <Exchange key={row.id}>
                <summary>
                  <When at={row.at} />
                  <span>
                    <ModePlate mode={row.mode} />
                  </span>
                  <span>{row.connection}</span>
                  <span>{row.label}</span>
                  <Says meaning={row.ok ? "proven" : "wrong"}>
                    {row.response?.status ?? row.outcome ?? "no answer"}
                  </Says>
                  <Took>{row.duration === null ? "" : `${row.duration} ms`}</Took>
                </summary>
                <Row $gap={1}>
                  <CopyValue value={row.bundle} label="Copy for the provider’s support" plain />
                  {row.paymentId && (
                    <Link to={`/s/${params.storefront}/operate/${row.paymentId}`}>The payment</Link>
                  )}
                </Row>
                <Sides>
                  <Message title="Asked" message={row.request} />
                  <Message title="Answered" message={row.response} />
                </Sides>
              </Exchange>
            ))}
          </div>
          {next && (
            <Link to={`${here}?${new URLSearchParams({ ...filter, before: next }).toString()}`}>
              Older ones
            </Link>
          )}
        </Stack>
      </Sheet>
    </>
  );
}

type RecordedMessage = Route.ComponentProps["loaderData"]["rows"][number]["request"];

function Message({ title, message }: { title: string; message: RecordedMessage }) {
  if (!message)
    return (
      <div>
        <strong>{title}</strong>
        <Small>Nothing.</Small>
      </div>
    );
  const head = message.url ? `${message.method ?? ""} ${message.url}` : String(message.status ?? "");
  const headers = Object.entries(message.headers).map(([name, value]) => `${name}: ${value}`);
  return (
    <div>
      <strong>{title}</strong> <Mono>{head}</Mono>
      <Text tabIndex={0}>{[...headers, "", message.body].join("\n")}</Text>
    </div>
  );
}

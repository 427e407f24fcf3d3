import { Form, Link, useLocation, useSubmit } from "react-router";
import { styled } from "styled-components";
import { paymentStates, stateWords } from "#core/payments/facts";
import type { Mode } from "#core/mode";
import { modeShown } from "#server/connections/connections";
import { filterFrom, listPayments, type PaymentFilter } from "#server/payments/list";
import type { Runtime } from "#server/runtime";
import { runtimeContext } from "../context";
import { localeOf, mustFindStorefront } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { Button, Check, Field, Input, Select, Wrong } from "../parts/form";
import { StateMark } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { OperateTabs } from "./tabs";
import type { Route } from "./+types/payments";

export const meta: Route.MetaFunction = () => [{ title: "Payments · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const { searchParams } = new URL(request.url);
  const mode = await modeShown(rt, storefront.id, searchParams.get("mode"));
  const filter = filterFrom(searchParams, mode);
  const { rows, next } = await listPayments(rt, storefront.id, filter);
  return {
    filter,
    elsewhere: rows.length === 0 && filter.query ? await foundElsewhere(rt, storefront.id, filter) : null,
    next,
    locale: localeOf(storefront),
    rows,
  };
}

/** The other mode, when what was searched for is only there. */
async function foundElsewhere(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<Mode | null> {
  const mode = filter.mode === "test" ? "live" : "test";
  const { rows } = await listPayments(rt, storefrontId, { ...filter, mode, after: null });
  return rows.length > 0 ? mode : null;
}

const Filter = styled(Form)`
  display: flex;
  flex-wrap: wrap;
  gap: 0.8rem 1.2rem;
  align-items: end;
  label:first-of-type {
    flex: 1 1 14rem;
    max-width: 24rem;
  }
`;
const Scroller = styled.div`
  overflow-x: auto;
`;

export default function Payments({ loaderData, params }: Route.ComponentProps) {
  const { filter, elsewhere, rows, next, locale } = loaderData;
  const submit = useSubmit();
  const { search } = useLocation();
  const further = new URLSearchParams(search);
  if (next) further.set("after", next);
  const at = `/s/${params.storefront}/operate`;
  return (
    <>
      <PageHead>
        <h1>Payments</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <OperateTabs storefrontId={params.storefront} mode={filter.mode} at="" />
          <Filter
            key={search}
            onChange={(event) =>
              event.target instanceof HTMLInputElement && event.target.type === "text"
                ? undefined
                : void submit(event.currentTarget)
            }
          >
            <input type="hidden" name="mode" value={filter.mode} />
            <Field>
              Order or reference
              <Input name="q" type="text" defaultValue={filter.query} maxLength={80} />
            </Field>
            <Field>
              State
              <Select name="state" defaultValue={filter.state ?? ""}>
                <option value="">Any</option>
                {paymentStates.map((state) => (
                  <option key={state} value={state}>
                    {stateWords(state)}
                  </option>
                ))}
              </Select>
            </Field>
            {filter.mode === "test" && (
              <>
                <Check>
                  <input type="checkbox" name="rehearsals" value="1" defaultChecked={filter.rehearsals} />{" "}
                  With rehearsals
                </Check>
                <Check>
                  <input type="checkbox" name="archived" value="1" defaultChecked={filter.archived} /> With
                  those from before the cutover
                </Check>
              </>
            )}
            <Button>Find</Button>
          </Filter>
          {rows.length === 0 && elsewhere ? (
            <Small>
              Not among the {filter.mode} payments.{" "}
              <Link to={`?${new URLSearchParams({ q: filter.query, mode: elsewhere }).toString()}`}>
                It is among the {elsewhere} payments
              </Link>
            </Small>
          ) : rows.length === 0 ? (
            <Small>
              {filter.query || filter.state ? "Nothing fits." : `No ${filter.mode} payments yet.`}{" "}
              {filter.mode === "test"
                ? "Buy something in the shop with its test key, or rehearse."
                : "They appear here after the cutover."}
            </Small>
          ) : (
            <Scroller tabIndex={0} role="region" aria-label="Payments">
              <Table>
                <thead>
                  <tr>
                    <th scope="col">Order</th>
                    <th scope="col">When</th>
                    <th scope="col">State</th>
                    <th scope="col">Order stage</th>
                    <th scope="col">Paid with</th>
                    <th scope="col" className="amount">
                      Amount
                    </th>
                    <th scope="col" className="amount">
                      Handed back
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <tr key={row.id}>
                      <td className="whole">
                        <Link to={`${at}/${row.id}`}>
                          <Mono>{row.orderReference}</Mono>
                        </Link>
                        {row.origin !== "shop" && (
                          <Small as="span"> {row.origin === "walk" ? "walked" : "rehearsal"}</Small>
                        )}
                      </td>
                      <td>
                        <When at={row.createdAt} />
                      </td>
                      <td>
                        <StateMark state={row.state} />
                        {row.attention && <Wrong>needs a look</Wrong>}
                      </td>
                      <td>{row.stage}</td>
                      <td>{row.instrument}</td>
                      <td className="amount">
                        <Amount amount={row.amount} currency={row.currency} locale={locale} />
                      </td>
                      <td className="amount">
                        {row.refunded > 0 && (
                          <Amount amount={row.refunded} currency={row.currency} locale={locale} />
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </Scroller>
          )}
          <Row>
            {filter.after && <Link to={withoutCursor(search)}>To the newest</Link>}
            {next && (
              <Button as={Link} to={`?${further.toString()}`}>
                Earlier payments
              </Button>
            )}
          </Row>
        </Stack>
      </Sheet>
    </>
  );
}

function withoutCursor(search: string): string {
  const rest = new URLSearchParams(search);
  rest.delete("after");
  return `?${rest.toString()}`;
}

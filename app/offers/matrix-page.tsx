import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { assign, type Assignment, type Matrix, matrixOf } from "#server/offers/matrix";
import { runtimeContext } from "../context";
import { CheckBox } from "../parts/check-box";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { mustOperate } from "../people/session";
import { color } from "../theme/tokens";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/matrix-page";
import { t } from "../words/pages/offers-matrix";

export const meta: Route.MetaFunction = () => [{ title: t("on-all-storefronts-zahlung") }];

const MOST = 500;

export const loader = async ({ context }: Route.LoaderArgs): Promise<Matrix> =>
  matrixOf(context.get(runtimeContext));

export async function action({ request, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const form = await request.formData();
  let given: unknown;
  try {
    given = JSON.parse(String(form.get("assignments")));
  } catch {
    throw data(t("the-form-is-malformed"), { status: 400 });
  }
  if (!Array.isArray(given) || given.length > MOST || !given.every(isAssignment))
    throw data(t("the-form-is-malformed"), { status: 400 });
  const results = await assign(rt, person.email, given);
  const failed = results.some(({ says }) => says !== null);
  return data(spoken({ results }), { status: failed ? 409 : 200 });
}

const isAssignment = (value: unknown): value is Assignment => {
  const { key, storefrontId, groups } = (value ?? {}) as Partial<Record<keyof Assignment, unknown>>;
  return (
    typeof key === "string" &&
    typeof storefrontId === "string" &&
    Array.isArray(groups) &&
    groups.every((one) => typeof one === "string")
  );
};

const Scroller = styled.div`
  overflow-x: auto;
`;
const Grid = styled.table`
  font-size: 0.93rem;
  border-collapse: collapse;
  th {
    text-align: start;
    vertical-align: bottom;
    font-weight: 600;
    padding: 0.35rem 0.9rem 0.35rem 0;
  }
  thead th {
    border-bottom: 1px solid ${color.rule};
  }
  thead tr:last-child th {
    font-weight: 400;
    border-bottom: 1.5px solid ${color.ink};
  }
  tbody th {
    position: sticky;
    inset-inline-start: 0;
    background: ${color.sheet};
  }
  tbody th,
  tbody td {
    border-bottom: 1px solid ${color.rule};
  }
  td {
    padding: 0.2rem 0.9rem 0.2rem 0;
  }
  td:has(.edited) {
    background: ${color.petrolSoft};
  }
  .first {
    border-inline-start: 1px solid ${color.rule};
    padding-inline-start: 0.9rem;
  }
  input {
    width: 1.25rem;
    height: 1.25rem;
    accent-color: ${color.petrol};
    vertical-align: middle;
  }
`;

const placeKey = (row: string, storefront: string) => `${row}\n${storefront}`;

/** Ways of paying down, storefronts and their groups across: each ticked where it is offered. */
export default function MatrixPage({ loaderData, params }: Route.ComponentProps) {
  const { storefronts, rows } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const [edited, setEdited] = useState<ReadonlyMap<string, readonly string[]>>(new Map());
  const busy = fetcher.state !== "idle";
  const groupsAt = (row: Matrix["rows"][number], storefront: string) =>
    edited.get(placeKey(row.key, storefront)) ?? row.places[storefront]?.groups ?? [];
  const toggle = (row: Matrix["rows"][number], storefront: string, group: string) => {
    const now = groupsAt(row, storefront);
    const next = now.includes(group) ? now.filter((one) => one !== group) : [...now, group];
    const before = row.places[storefront]?.groups ?? [];
    const same = next.length === before.length && before.every((one) => next.includes(one));
    const changed = new Map(edited);
    if (same) changed.delete(placeKey(row.key, storefront));
    else changed.set(placeKey(row.key, storefront), next);
    setEdited(changed);
  };
  const save = () => {
    const assignments: Assignment[] = [...edited].map(([key, groups]) => {
      const [row = "", storefront = ""] = key.split("\n");
      return { key: row, storefrontId: storefront, groups };
    });
    setEdited(new Map());
    void fetcher.submit({ assignments: JSON.stringify(assignments) }, { method: "post" });
  };
  const results = busy ? [] : (fetcher.data?.results ?? []);
  const failed = results.filter(({ says }) => says !== null);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("on-all-storefronts")}</h1>
          <p>{t("ticked-offered-there-in-test")}</p>
        </div>
      </PageHead>
      {failed.length > 0 && (
        <Note meaning="wrong">
          <ul>
            {failed.map((one) => (
              <li key={`${one.label} ${one.storefront}`}>
                {t("label-on-storefront-says", {
                  label: one.label,
                  storefront: one.storefront,
                  says: one.says,
                })}
              </li>
            ))}
          </ul>
        </Note>
      )}
      <Sheet>
        {rows.length === 0 ? (
          <Row>
            <p>{t("nothing-is-offered-on-any")}</p>
            <Button as={Link} to={`/s/${params.storefront}/offer?add=1`} $kind="main">
              {t("offer-something")}
            </Button>
          </Row>
        ) : (
          <Stack>
            <Scroller tabIndex={0} role="region" aria-label={t("ways-of-paying-and-storefronts")}>
              <Grid>
                <thead>
                  <tr>
                    <th scope="col" rowSpan={2}>
                      {t("way-of-paying")}
                    </th>
                    {storefronts.map((one) => (
                      <th
                        key={one.id}
                        scope="colgroup"
                        colSpan={Math.max(1, one.groups.length)}
                        className="first"
                      >
                        {one.name}
                      </th>
                    ))}
                  </tr>
                  <tr>
                    {storefronts.flatMap((one) =>
                      one.groups.map((group, i) => (
                        <th
                          key={`${one.id} ${group.id}`}
                          scope="col"
                          className={i === 0 ? "first" : undefined}
                        >
                          {group.name}
                        </th>
                      )),
                    )}
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <tr key={row.key}>
                      <th scope="row">
                        {row.label}
                        {row.account && <Small>{row.account}</Small>}
                      </th>
                      {storefronts.flatMap((one) => {
                        const place = row.places[one.id];
                        if (!place?.may)
                          return [
                            <td key={one.id} colSpan={Math.max(1, one.groups.length)} className="first">
                              <Small>{t("its-account-does-not-serve")}</Small>
                            </td>,
                          ];
                        const groups = groupsAt(row, one.id);
                        const isEdited = edited.has(placeKey(row.key, one.id));
                        return one.groups.map((group, i) => (
                          <td key={`${one.id} ${group.id}`} className={i === 0 ? "first" : undefined}>
                            <CheckBox
                              className={isEdited ? "edited" : undefined}
                              label={t("label-on-storefront-to-group", {
                                label: row.label,
                                storefront: one.name,
                                group: group.name,
                              })}
                              checked={groups.includes(group.id)}
                              disabled={busy}
                              onChange={() => toggle(row, one.id, group.id)}
                            />
                          </td>
                        ));
                      })}
                    </tr>
                  ))}
                </tbody>
              </Grid>
            </Scroller>
            <Row>
              <Button type="button" $kind="main" disabled={edited.size === 0 || busy} onClick={save}>
                {t("save", { hasBusy: busy ? "yes" : "no" })}
              </Button>
              {edited.size > 0 && (
                <Button type="button" onClick={() => setEdited(new Map())}>
                  {t("discard")}
                </Button>
              )}
              {edited.size > 0 ? (
                <Says meaning="waits">{t("edited-places-changed-not-saved", { edited: edited.size })}</Says>
              ) : (
                results.length > failed.length && (
                  <Says meaning="proven" role="status">
                    {t("saved")}
                  </Says>
                )
              )}
            </Row>
          </Stack>
        )}
      </Sheet>
    </Stack>
  );
}

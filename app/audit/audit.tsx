import { styled } from "styled-components";
import { auditBreak, recentAudit } from "#server/audit/audit";
import { runtimeContext } from "../context";
import { Says } from "../parts/marks";
import { Mono, PageHead, Sheet, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { PlainPage } from "../frame/plain-page";
import type { Route } from "./+types/audit";

export const meta: Route.MetaFunction = () => [{ title: "Audit trail · Zahlung" }];

export async function loader({ context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const [entries, broken] = await Promise.all([recentAudit(rt, 200), auditBreak(rt)]);
  return {
    entries: entries.map(({ number, at, person, action, subject, detail }) => ({
      number,
      at,
      person,
      action,
      subject,
      detail,
    })),
    broken,
  };
}

const Scroller = styled.div`
  overflow-x: auto;
`;

export default function Audit({ loaderData }: Route.ComponentProps) {
  const { entries, broken } = loaderData;
  return (
    <PlainPage>
      <PageHead>
        <div>
          <h1>Audit trail</h1>
          <p>
            Every change of settings. Each entry carries the hash of the one before, so none can be taken out
            unseen.
          </p>
        </div>
        {broken === null ? (
          <Says meaning="proven">the chain is whole</Says>
        ) : (
          <Says meaning="wrong">broken at entry {broken}</Says>
        )}
      </PageHead>
      <Sheet>
        <Scroller tabIndex={0} role="region" aria-label="Entries">
          <Table>
            <thead>
              <tr>
                <th scope="col">No</th>
                <th scope="col">When</th>
                <th scope="col">Who</th>
                <th scope="col">What</th>
                <th scope="col">Of what</th>
                <th scope="col">Detail</th>
              </tr>
            </thead>
            <tbody>
              {entries.map((one) => (
                <tr key={one.number}>
                  <td>{one.number}</td>
                  <td>
                    <When at={one.at} />
                  </td>
                  <td>{one.person}</td>
                  <td>{one.action}</td>
                  <td>
                    <Mono>{one.subject}</Mono>
                  </td>
                  <td>
                    <Mono>
                      {Object.entries(one.detail)
                        .map(([key, value]) => `${key}: ${String(value)}`)
                        .join(", ")}
                    </Mono>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Scroller>
      </Sheet>
    </PlainPage>
  );
}

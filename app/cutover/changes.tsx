import { useStorefront } from "../frame/use-storefront";
import { Small, Table } from "../parts/sheet";
import { bothValues } from "../offers/changed";
import { settingWords } from "../offers/change-words";
import type { ConnectionView } from "./connection-view";

interface SettingChange {
  offer: string;
  path: string;
  /** What live runs now, and what it would run. */
  from: string | null;
  to: string | null;
}

/** Settings as live runs them now and as it would; `several`: they are of more than one offer. */
export function SettingTable({ changes, several }: { changes: readonly SettingChange[]; several: boolean }) {
  const { locale } = useStorefront();
  return (
    <Table>
      <thead>
        <tr>
          <th scope="col">Setting</th>
          <th scope="col">Live now</th>
          <th scope="col">Then</th>
        </tr>
      </thead>
      <tbody>
        {changes.map((change) => {
          const [now, then] = bothValues(change, locale);
          return (
            <tr key={change.offer + change.path}>
              <td>
                {settingWords(change.path)}
                {several && <Small>{change.offer}</Small>}
              </td>
              <td>{now}</td>
              <td>{then}</td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}

/** Everything that the next movement of a lever changes in live. */
export function Changes({ one }: { one: ConnectionView }) {
  const several = one.offers.length > 1;
  return (
    <>
      <h3>What this cutover changes in live</h3>
      {one.changes.length === 0 ? (
        <Small>
          {one.version === null ? "Nothing: live runs the working revision." : "No setting of the offers."}
        </Small>
      ) : (
        <SettingTable changes={one.changes} several={several} />
      )}
      {one.version && (
        <>
          <p>
            Version {one.version.to} of the profile takes the place of {one.version.from}:
          </p>
          <ul>
            {one.version.differs.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      {one.replaces.length > 0 && (
        <p>
          It takes the place of <strong>{one.replaces.join(" and ")}</strong>: both move at the same moment.
          Payments under way there go on and can be captured and refunded.
        </p>
      )}
      {one.live !== "live" && (
        <Small>
          And: shoppers in the live shop are shown this offer, test orders leave the everyday lists, and the
          shop is told to close them. A snapshot of what runs now is kept.
        </Small>
      )}
    </>
  );
}

import { useStorefront } from "../frame/use-storefront";
import { Small, Table } from "../parts/sheet";
import { bothValues } from "../offers/changed";
import { settingWords } from "../offers/change-words";
import type { ConnectionView } from "./connection-view";
import { listed } from "../words/listed";
import { t } from "../words/pages/cutover";

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
          <th scope="col">{t("setting")}</th>
          <th scope="col">{t("live-now")}</th>
          <th scope="col">{t("then")}</th>
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
      <h3>{t("what-this-cutover-changes-in")}</h3>
      {one.changes.length === 0 ? (
        <Small>{t("no-setting-of-the-offers", { noVersion: one.version === null ? "yes" : "no" })}</Small>
      ) : (
        <SettingTable changes={one.changes} several={several} />
      )}
      {one.version && (
        <>
          <p>{t("version-to-of-the-profile", { to: one.version.to, from: one.version.from })}</p>
          <ul>
            {one.version.differs.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      {one.replaces.length > 0 && (
        <p>{t("it-takes-the-place-of", { names: <strong>{listed(one.replaces)}</strong> })}</p>
      )}
      {one.live !== "live" && <Small>{t("and-shoppers-in-the-live")}</Small>}
    </>
  );
}

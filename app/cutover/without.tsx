import { ChevronDown, ChevronRight } from "lucide-react";
import { Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { fieldId } from "../parts/error-summary";
import { Button, Wrong } from "../parts/form";
import { type Meaning, Says } from "../parts/marks";
import { Small, Stack } from "../parts/sheet";
import { SettingTable } from "./changes";
import { Opened } from "./detail";
import { Head, Rows, Stands } from "./fold";
import type { Without } from "./connection-view";
import { t } from "../words/pages/cutover";

const Section = styled.section`
  margin-top: 1.2rem;
  > h2 {
    margin-bottom: 0.4rem;
  }
`;

type OfferView = Without["offers"][number];

/** What there is to say of an offer in one line. */
function summaryOf({ live, working, changes, lacks, off }: OfferView): { meaning: Meaning; says: string } {
  const [lack] = lacks;
  if (live === working) return { meaning: "proven", says: t("live-runs-what-is-set") };
  if (lack) return { meaning: "waits", says: t("it-cannot-go-live-yet", { says: lack.says }) };
  if (live === null) return { meaning: "waits", says: t("ready-nothing-is-lacking") };
  const waits = t("changes-wait", { changes: changes.length });
  return {
    meaning: "waits",
    says: off ? t("waits-it-is-switched-off", { waits }) : t("waits-nothing-is-lacking", { waits }),
  };
}

/** What goes live without a connection: it has no gates but that nothing is lacking, and each has its own press. */
export function WithoutProviders({
  without: { offers, lookWaits },
  open,
  storefrontId,
}: {
  without: Without;
  /** The id of what is opened, if anything. */
  open: string | null;
  storefrontId: string;
}) {
  if (offers.length === 0 && !lookWaits) return null;
  return (
    <Section aria-labelledby="without-a-provider">
      <h2 id="without-a-provider">{t("without-a-provider")}</h2>
      <Rows>
        {offers.map((one) => {
          const { meaning, says } = summaryOf(one);
          const isOpen = one.id === open;
          return (
            <li key={one.id} id={one.id}>
              <Head>
                {isOpen ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />}
                <h3>
                  <Link to={isOpen ? "?of=none" : `?of=${one.id}`} aria-expanded={isOpen} preventScrollReset>
                    {one.name}
                  </Link>
                </h3>
                <Stands live={one.live !== null && !one.off ? "live" : "never"} />
                <Says meaning={meaning}>{says}</Says>
              </Head>
              {isOpen && <Waiting one={one} sheet={`/s/${storefrontId}/offer/without/${one.id}`} />}
            </li>
          );
        })}
        {lookWaits && (
          <li>
            <Head>
              <span />
              <h3>
                <Link to={`/s/${storefrontId}/offer/look`}>{t("the-look-of-the-checkout")}</Link>
              </h3>
              <span />
              <Says meaning="waits">{t("live-shoppers-do-not-see")}</Says>
            </Head>
          </li>
        )}
      </Rows>
    </Section>
  );
}

/** What putting an offer live would change there, and the press; or what it lacks, with the way to the fields. */
function Waiting({ one, sheet }: { one: OfferView; sheet: string }) {
  const fetcher = useFetcher<{ says: string | null; refused?: boolean }>();
  const answer = fetcher.state === "idle" ? fetcher.data : undefined;
  return (
    <Opened role="group" aria-label={t("going-live-of-name", { name: one.name })}>
      <Stack $gap={0.7}>
        {one.lacks.length > 0 && (
          <ul>
            {one.lacks.map((lack) => (
              <li key={lack.path + lack.says}>
                <Link to={`${sheet}#${fieldId(lack.path)}`}>{lack.says}</Link>
              </li>
            ))}
          </ul>
        )}
        {one.changes.length > 0 ? (
          <SettingTable
            changes={one.changes.map((change) => ({ ...change, offer: one.name }))}
            several={false}
          />
        ) : (
          <Small>{t("no-setting-of-it-changes", { live: one.live === one.working ? "yes" : "no" })}</Small>
        )}
        {one.lacks.length === 0 && one.live !== one.working && (
          <fetcher.Form method="post">
            <input type="hidden" name="offer" value={one.id} />
            <input type="hidden" name="revision" value={one.working} />
            <Button $kind="main" name="press" value="put-live" disabled={fetcher.state !== "idle"}>
              {t("put-revision-working-of-name", { working: one.working, name: one.name })}
            </Button>
          </fetcher.Form>
        )}
        <Wrong>{answer?.refused ? answer.says : null}</Wrong>
        <Small>
          <Link to={sheet}>{t("its-sheet")}</Link>
        </Small>
      </Stack>
    </Opened>
  );
}

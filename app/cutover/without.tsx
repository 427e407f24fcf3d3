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
  if (live === working) return { meaning: "proven", says: "Live runs what is set. Nothing waits." };
  if (lack) return { meaning: "waits", says: `It cannot go live yet. ${lack.says}` };
  if (live === null) return { meaning: "waits", says: "Ready: nothing is lacking." };
  const waits = `${changes.length} change${changes.length === 1 ? " waits" : "s wait"}`;
  return {
    meaning: "waits",
    says: off ? `${waits}; it is switched off in live.` : `${waits}: nothing is lacking.`,
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
      <h2 id="without-a-provider">Without a provider</h2>
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
                <Link to={`/s/${storefrontId}/offer/look`}>The look of the checkout</Link>
              </h3>
              <span />
              <Says meaning="waits">Live shoppers do not see yet what was saved.</Says>
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
    <Opened role="group" aria-label={`Going live of ${one.name}`}>
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
          <Small>{one.live === one.working ? "Live runs what is set." : "No setting of it changes."}</Small>
        )}
        {one.lacks.length === 0 && one.live !== one.working && (
          <fetcher.Form method="post">
            <input type="hidden" name="offer" value={one.id} />
            <input type="hidden" name="revision" value={one.working} />
            <Button $kind="main" name="press" value="put-live" disabled={fetcher.state !== "idle"}>
              Put revision {one.working} of {one.name} live
            </Button>
          </fetcher.Form>
        )}
        <Wrong>{answer?.refused ? answer.says : null}</Wrong>
        <Small>
          <Link to={sheet}>Its sheet</Link>
        </Small>
      </Stack>
    </Opened>
  );
}

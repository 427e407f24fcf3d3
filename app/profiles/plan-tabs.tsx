import { PageTabs } from "../parts/page-tabs";

/** The three leaves of the plan: finding providers, what they cost, and the list that was made of them. */
export function PlanTabs({
  storefrontId,
  at,
  listed,
}: {
  storefrontId: string;
  at: "" | "/costs" | "/list";
  listed: number;
}) {
  const base = `/s/${storefrontId}/plan`;
  return (
    <PageTabs
      label="Plan"
      here={base + at}
      pages={[
        { to: base, words: "Find" },
        { to: `${base}/costs`, words: "Costs" },
        { to: `${base}/list`, words: `Shortlist (${listed})` },
      ]}
    />
  );
}

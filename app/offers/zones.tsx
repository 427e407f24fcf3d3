import { useState } from "react";
import { data, useFetcher } from "react-router";
import { namesOfCodes } from "#core/places/names";
import { dropZone, keepZone, zonesOf } from "#server/offers/zones";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { AskFirst } from "../parts/ask";
import { ChooseMany } from "../parts/choose";
import { type Column, DataTable } from "../parts/data-table";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { countryChoices } from "../parts/places";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { sortedBy } from "../parts/sorted";
import { TextBox } from "../parts/text-box";
import { saysAt } from "../words/says-at";
import { spoken, tell } from "../words/spoken.server";
import type { Route } from "./+types/zones";

export const meta: Route.MetaFunction = () => [{ title: "Zones · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  await mustFindStorefront(context, params.storefront);
  const zones = await zonesOf(context.get(runtimeContext));
  const sort = new URL(request.url).searchParams.get("sort");
  return {
    zones: sortedBy(zones, sort, { name: (zone) => zone.name }).map((zone) => ({
      ...zone,
      says: [namesOfCodes("region", zone.countries), zone.regions.join(", "), zone.postcodes.join(", ")]
        .filter(Boolean)
        .join("; "),
    })),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const text = (name: string) => String(form.get(name) ?? "");
  const id = text("zone") || null;
  if (text("press") === "drop") {
    const dropped = await dropZone(rt, person.email, id ?? "");
    return dropped.ok
      ? { ok: true as const, problems: [] }
      : data(
          { ok: false as const, problems: [{ path: id ?? "", says: tell(dropped.says) }] },
          { status: 409 },
        );
  }
  const kept = await keepZone(rt, person.email, id, {
    name: text("name"),
    countries: text("countries"),
    regions: text("regions"),
    postcodes: text("postcodes"),
  });
  return kept.ok
    ? { ok: true as const, problems: [] }
    : data({ ok: false as const, problems: spoken(kept.problems) }, { status: 422 });
}

type ZoneView = Route.ComponentProps["loaderData"]["zones"][number];

/** Named sets of places, kept once for all storefronts, that rules of offers name. */
export default function Zones({ loaderData }: Route.ComponentProps) {
  const { zones } = loaderData;
  const [open, setOpen] = useState<string | null>(null);
  const edited = zones.find((one) => one.id === open);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>Zones</h1>
          <p>
            Countries, regions and postcodes under one name, such as islands: named once, used in the rules of
            every offer on every storefront. A change holds at once, in test and in live.
          </p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <DataTable
            label="Zones"
            columns={columns((zone) => setOpen(zone.id))}
            rows={zones}
            rowKey={({ id }) => id}
            empty={<Small>No zone yet. Name the first below.</Small>}
          />
        </Stack>
      </Sheet>
      <Sheet>
        <ZoneForm key={open ?? `new ${zones.length}`} zone={edited ?? null} onDone={() => setOpen(null)} />
      </Sheet>
    </Stack>
  );
}

const columns = (onEdit: (zone: ZoneView) => void): Column<ZoneView>[] => [
  { id: "name", head: "Zone", sort: "name", always: true, cell: ({ name }) => name },
  { id: "says", head: "What lies in it", always: true, prose: true, cell: ({ says }) => says },
  {
    ...{ id: "acts", head: "", always: true },
    cell: (zone) => <ZoneActs zone={zone} onEdit={() => onEdit(zone)} />,
  },
];

function ZoneActs({ zone, onEdit }: { zone: ZoneView; onEdit: () => void }) {
  const fetcher = useFetcher<typeof action>();
  return (
    <Stack $gap={0.2}>
      <Row>
        <Button type="button" $kind="bare" aria-label={`Change ${zone.name}`} onClick={onEdit}>
          Change
        </Button>
        <AskFirst
          label="Remove"
          name={`Remove ${zone.name}`}
          title={`Remove the zone ${zone.name}?`}
          says="Only a zone that no rule names can be removed."
          yes="Remove it"
          no="Leave it"
          onYes={() => void fetcher.submit({ press: "drop", zone: zone.id }, { method: "post" })}
        />
      </Row>
      <Wrong>{fetcher.state === "idle" ? fetcher.data?.problems[0]?.says : null}</Wrong>
    </Stack>
  );
}

function ZoneForm({ zone, onDone }: { zone: ZoneView | null; onDone: () => void }) {
  const fetcher = useFetcher<typeof action>();
  const problems = fetcher.data && !fetcher.data.ok && fetcher.state === "idle" ? fetcher.data.problems : [];
  const [countries, setCountries] = useState<readonly string[]>(zone?.countries ?? []);
  const wrong = (path: string) => saysAt(problems, path);
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="zone" value={zone?.id ?? ""} />
      <input type="hidden" name="countries" value={countries.join(", ")} />
      <Stack>
        <h2>{zone ? `Change ${zone.name}` : "Another zone"}</h2>
        <TextBox label="Name" name="name" defaultValue={zone?.name} maxLength={60} wrong={wrong("name")} />
        <ChooseMany
          label="Countries"
          choices={countryChoices()}
          value={[...countries]}
          onChange={setCountries}
          none="None yet."
          wrong={wrong("countries")}
        />
        <TextBox
          label="Regions"
          name="regions"
          defaultValue={zone?.regions.join(", ")}
          hint="By ISO 3166-2, such as DE-SH, FR-2A."
          wrong={wrong("regions")}
        />
        <TextBox
          label="Postcodes"
          name="postcodes"
          defaultValue={zone?.postcodes.join(", ")}
          hint="Such as DE 25980, DE 25* for all that begin so, or DE 25930-25999."
          wrong={wrong("postcodes")}
        />
        <Row>
          <Button $kind="main" disabled={fetcher.state !== "idle"}>
            {zone ? "Keep the change" : "Add the zone"}
          </Button>
          {zone && (
            <Button type="button" onClick={onDone}>
              Leave it
            </Button>
          )}
          {fetcher.data?.ok && fetcher.state === "idle" && (
            <Says meaning="proven" role="status">
              kept
            </Says>
          )}
        </Row>
      </Stack>
    </fetcher.Form>
  );
}

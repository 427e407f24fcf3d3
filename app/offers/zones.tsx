import { useEffect, useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { removedZones } from "#server/offers/zone-revisions";
import { zoneUses } from "#server/offers/zone-uses";
import { addZone, changeZone, dropZone, zonesOf } from "#server/offers/zones";
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
import { When } from "../parts/when";
import { saysAt } from "../words/says-at";
import { spoken, tell } from "../words/spoken.server";
import type { Route } from "./+types/zones";
import { t } from "../words/pages/offers-zones";
import { Effect, Uses } from "./zone-effect";
import { extentIn, extentText, extentWords } from "./zone-extent";

export const meta: Route.MetaFunction = () => [{ title: t("zones-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const zones = await zonesOf(rt);
  const [uses, removed] = await Promise.all([zoneUses(rt, zones), removedZones(rt)]);
  const sort = new URL(request.url).searchParams.get("sort");
  return {
    zones: sortedBy(zones, sort, { name: (zone) => zone.name }).map((zone) => ({
      ...zone,
      says: extentWords(zone),
      uses: uses.get(zone.id) ?? [],
    })),
    removed: removed.map(({ zoneId: id, name, person, createdAt }) => ({ id, name, person, createdAt })),
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
      ? { ok: true as const, problems: [], asks: null }
      : data(
          { ok: false as const, problems: [{ path: id ?? "", says: tell(dropped.says) }], asks: null },
          { status: 409 },
        );
  }
  const entry = {
    ...{ name: text("name"), countries: text("countries") },
    ...{ regions: text("regions"), postcodes: text("postcodes") },
  };
  const began = id ? extentIn(text("began")) : null;
  if (id && !began) throw data(t("the-form-is-malformed"), { status: 400 });
  const kept = began
    ? await changeZone(rt, person.email, { id: id ?? "", ...began }, entry, extentIn(text("agreed")))
    : await addZone(rt, person.email, entry);
  if (kept.ok) return { ok: true as const, problems: [], asks: null };
  const asks = "asks" in kept ? { effect: kept.asks, extent: kept.extent } : null;
  return data({ ok: false as const, problems: spoken(kept.problems), asks }, { status: asks ? 409 : 422 });
}

type ZoneView = Route.ComponentProps["loaderData"]["zones"][number];

/** Named sets of places, kept once for all storefronts, that rules of offers name. */
export default function Zones({ loaderData }: Route.ComponentProps) {
  const { zones, removed } = loaderData;
  const [open, setOpen] = useState<string | null>(null);
  const [kept, setKept] = useState("");
  const edited = zones.find((one) => one.id === open);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("zones")}</h1>
          <p>{t("countries-regions-and-postcodes-under")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <DataTable
            label={t("zones")}
            columns={columns((zone) => {
              setKept("");
              setOpen(zone.id);
            })}
            rows={zones}
            rowKey={({ id }) => id}
            empty={<Small>{t("no-zone-yet-name-the")}</Small>}
          />
          {kept && (
            <Says meaning="proven" role="status">
              {t("kept-is-changed", { kept })}
            </Says>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <ZoneForm
          key={open ?? `new ${zones.length}`}
          zone={edited ?? null}
          onDone={(changed) => {
            setKept(changed);
            setOpen(null);
          }}
        />
      </Sheet>
      {removed.length > 0 && (
        <Sheet>
          <Stack>
            <h2>{t("removed-zones")}</h2>
            <ul>
              {removed.map(({ id, name, person, createdAt }) => (
                <li key={id}>
                  <Link to={id} aria-label={t("revisions-of-name", { name })}>
                    {name}
                  </Link>{" "}
                  <Small as="span">
                    {t("removed-when-by-person", { when: <When at={createdAt} />, person })}
                  </Small>
                </li>
              ))}
            </ul>
          </Stack>
        </Sheet>
      )}
    </Stack>
  );
}

const columns = (onEdit: (zone: ZoneView) => void): Column<ZoneView>[] => [
  { id: "name", head: t("zone"), sort: "name", always: true, cell: ({ name }) => name },
  { id: "says", head: t("what-lies-in-it"), always: true, prose: true, cell: ({ says }) => says },
  { id: "uses", head: t("offers-that-go-by-it"), prose: true, cell: ({ uses }) => <Uses uses={uses} /> },
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
        <Button
          type="button"
          $kind="bare"
          aria-label={t("change-name", { name: zone.name })}
          onClick={onEdit}
        >
          {t("change")}
        </Button>
        <AskFirst
          label={t("remove")}
          name={t("remove-name", { name: zone.name })}
          title={t("remove-the-zone-name", { name: zone.name })}
          says={t("only-a-zone-that-no")}
          yes={t("remove-it")}
          no={t("leave-it")}
          onYes={() => void fetcher.submit({ press: "drop", zone: zone.id }, { method: "post" })}
        />
        <Link to={zone.id} aria-label={t("revisions-of-name", { name: zone.name })}>
          {t("revisions")}
        </Link>
      </Row>
      <Wrong>{fetcher.state === "idle" ? fetcher.data?.problems[0]?.says : null}</Wrong>
    </Stack>
  );
}

/** A new zone, or one that is changed; `onDone` is told the name of what was changed, or nothing where it was left. */
function ZoneForm({ zone, onDone }: { zone: ZoneView | null; onDone: (changed: string) => void }) {
  const fetcher = useFetcher<typeof action>();
  const answer = fetcher.state === "idle" ? fetcher.data : undefined;
  const problems = answer?.problems ?? [];
  const asks = answer?.asks ?? null;
  const [countries, setCountries] = useState<readonly string[]>(zone?.countries ?? []);
  // As it was when it was opened: the page may be read anew meanwhile, and what is typed here began with this.
  const [opened] = useState(zone);
  const changed = zone !== null && answer?.ok === true ? zone.name : null;
  useEffect(() => {
    if (changed !== null) onDone(changed);
    // Only once it is kept, however often the page around it is drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [changed]);
  const wrong = (path: string) => saysAt(problems, path);
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="zone" value={zone?.id ?? ""} />
      {opened && <input type="hidden" name="began" value={extentText(opened)} />}
      {asks && <input type="hidden" name="agreed" value={extentText(asks.extent)} />}
      <input type="hidden" name="countries" value={countries.join(", ")} />
      <Stack>
        <h2>{zone ? t("change-name", { name: zone.name }) : t("another-zone")}</h2>
        <TextBox
          label={t("name")}
          name="name"
          defaultValue={zone?.name}
          maxLength={60}
          wrong={wrong("name")}
        />
        <ChooseMany
          label={t("countries")}
          choices={countryChoices()}
          value={[...countries]}
          onChange={setCountries}
          none={t("none-yet")}
          wrong={wrong("countries")}
        />
        <TextBox
          label={t("regions")}
          name="regions"
          defaultValue={zone?.regions.join(", ")}
          hint={t("by-iso-3166-2-such")}
          wrong={wrong("regions")}
        />
        <TextBox
          label={t("postcodes")}
          name="postcodes"
          defaultValue={zone?.postcodes.join(", ")}
          hint={t("such-as-de-25980-de")}
          wrong={wrong("postcodes")}
        />
        {asks && <Effect effect={asks.effect} />}
        <Wrong>{wrong("zone")}</Wrong>
        <Row>
          <Button $kind="main" disabled={fetcher.state !== "idle"}>
            {asks ? t("change-it-in-live-too") : zone ? t("keep-the-change") : t("add-the-zone")}
          </Button>
          {zone && (
            <Button type="button" onClick={() => onDone("")}>
              {t("leave-it")}
            </Button>
          )}
        </Row>
      </Stack>
    </fetcher.Form>
  );
}

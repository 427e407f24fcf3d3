import { useState } from "react";
import { Link, useParams } from "react-router";
import { styled } from "styled-components";
import { isGroup, type Rule, type RuleGroup, type RuleKind, type Rules, rulesSay } from "#core/offers/rules";
import type { Zone } from "#core/offers/zones";
import { fieldId } from "../parts/error-summary";
import { Button, Check, Field, Input, Select, Wrong } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { offering } from "../words/offering";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";

const kindWords: Record<RuleKind, string> = {
  zone: "where it goes, or is paid from",
  goods: "kinds of goods",
  delivery: "way of delivery",
  weight: "weight",
  time: "days and hours",
  shopper: "first or returning shoppers",
  tries: "refused tries",
  device: "phone or computer",
};
const days = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

const fresh = (on: RuleKind, zones: readonly Zone[], zone: string): Rule => {
  switch (on) {
    case "zone":
      return { on, zones: zones.slice(0, 1).map(({ id }) => id), at: "ship", is: true };
    case "goods":
      return { on, kinds: [], share: "some", is: false };
    case "delivery":
      return { on, methods: [], is: true };
    case "weight":
      return { on, least: null, greatest: null };
    case "time":
      return { on, days: [1, 2, 3, 4, 5], from: "09:00", until: "17:00", zone };
    case "shopper":
      return { on, is: "returning" };
    case "tries":
      return { on, most: 1 };
    case "device":
      return { on, is: "phone" };
  }
};

const List = styled.ul`
  display: grid;
  gap: 0.5rem;
  list-style: none;
  padding: 0;
  > li {
    border-left: 3px solid ${color.rule};
    padding: 0.2rem 0 0.2rem 0.7rem;
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 0.8rem;
    align-items: end;
  }
  select,
  input:not([type="checkbox"]) {
    width: auto;
    max-width: 16rem;
  }
`;

const NONE: Rules = { match: "all", rules: [] };

/** Further conditions under which an offer is shown, with what they say as one sentence. */
export function RulesEditor({
  draft,
  edit,
  problems,
  zones,
  timeZone,
}: OfferPart & { zones: readonly Zone[]; timeZone: string }) {
  const rules = draft.rules ?? NONE;
  const put = (next: Rules) => edit({ rules: next.rules.length > 0 ? next : undefined });
  const { storefront = "" } = useParams();
  return (
    <Stack>
      <h2>Further conditions</h2>
      {rules.rules.length > 0 ? (
        <p>
          <strong>Shown only</strong> {offering("en").say(rulesSay(rules, zones))}.
        </p>
      ) : (
        <Small>None: whoever fits what stands above is shown it.</Small>
      )}
      <Group
        group={rules}
        path="rules"
        problems={problems}
        zones={zones}
        timeZone={timeZone}
        onChange={put}
        nests
      />
      <Wrong>{saysAt(problems, "rules")}</Wrong>
      <Small>
        Places under one name are kept under <Link to={`/s/${storefront}/offer/zones`}>Zones</Link>. Kinds of
        goods, delivery and weight are the shop’s own words, as it sends them with an order.
      </Small>
    </Stack>
  );
}

interface Around {
  path: string;
  problems: OfferPart["problems"];
  zones: readonly Zone[];
  timeZone: string;
}

function Group<G extends Rules | RuleGroup>({
  group,
  onChange,
  nests = false,
  ...around
}: Around & { group: G; onChange: (group: G) => void; nests?: boolean }) {
  const { path, zones, timeZone } = around;
  const put = (rules: readonly (Rule | RuleGroup)[]) => onChange({ ...group, rules } as G);
  const at = (i: number, next: Rule | RuleGroup | null) =>
    put(group.rules.flatMap((one, j) => (j !== i ? [one] : next ? [next] : [])));
  return (
    <Stack $gap={0.5}>
      {group.rules.length > 1 && (
        <Field>
          How they go together
          <Select
            value={group.match}
            onChange={(event) => onChange({ ...group, match: event.target.value as "all" | "any" })}
          >
            <option value="all">All of them have to hold</option>
            <option value="any">One of them is enough</option>
          </Select>
        </Field>
      )}
      <List>
        {group.rules.map((one, i) => (
          <li key={i} id={fieldId(`${path}.${i}`)}>
            {isGroup(one) ? (
              <Stack $gap={0.4}>
                <strong>These together</strong>
                <Group {...around} path={`${path}.${i}`} group={one} onChange={(next) => at(i, next)} />
              </Stack>
            ) : (
              <RuleRow rule={one} zones={zones} onChange={(next) => at(i, next)} />
            )}
            <Row>
              <Wrong>{saysAt(around.problems, `${path}.${i}`)}</Wrong>
              <Button
                type="button"
                $kind="bare"
                aria-label={`Take condition ${i + 1} away`}
                onClick={() => at(i, null)}
              >
                Take it away
              </Button>
            </Row>
          </li>
        ))}
      </List>
      <Row>
        <Select
          aria-label="Add a condition about"
          value=""
          onChange={(event) => {
            const on = event.target.value;
            if (on === "group") put([...group.rules, { match: "any", rules: [] }]);
            else if (on) put([...group.rules, fresh(on as RuleKind, zones, timeZone)]);
          }}
        >
          <option value="">Add a condition about…</option>
          {Object.entries(kindWords).map(([on, words]) => (
            <option key={on} value={on}>
              {words}
            </option>
          ))}
          {nests && <option value="group">several together</option>}
        </Select>
      </Row>
    </Stack>
  );
}

function RuleRow({
  rule,
  zones,
  onChange,
}: {
  rule: Rule;
  zones: readonly Zone[];
  onChange: (rule: Rule) => void;
}) {
  switch (rule.on) {
    case "zone":
      return (
        <Row>
          <OnlyOrNot is={rule.is} onChange={(is) => onChange({ ...rule, is })} />
          <Select
            aria-label="Which address"
            value={rule.at}
            onChange={(event) => onChange({ ...rule, at: event.target.value as "ship" | "bill" })}
          >
            <option value="ship">where it goes to</option>
            <option value="bill">where it is paid from</option>
          </Select>
          {zones.map((zone) => (
            <Check key={zone.id}>
              <input
                type="checkbox"
                checked={rule.zones.includes(zone.id)}
                onChange={(event) =>
                  onChange({
                    ...rule,
                    zones: event.target.checked
                      ? [...rule.zones, zone.id]
                      : rule.zones.filter((id) => id !== zone.id),
                  })
                }
              />
              {zone.name}
            </Check>
          ))}
          {zones.length === 0 && <Small>There is no zone yet.</Small>}
        </Row>
      );
    case "goods":
      return (
        <Row>
          <OnlyOrNot is={rule.is} onChange={(is) => onChange({ ...rule, is })} />
          <Select
            aria-label="How much of the order"
            value={rule.share}
            onChange={(event) => onChange({ ...rule, share: event.target.value as "some" | "all" })}
          >
            <option value="some">when there is some of</option>
            <option value="all">when all of it is</option>
          </Select>
          <Words
            label="Kinds of goods"
            list={rule.kinds}
            onChange={(kinds) => onChange({ ...rule, kinds })}
          />
        </Row>
      );
    case "delivery":
      return (
        <Row>
          <OnlyOrNot is={rule.is} onChange={(is) => onChange({ ...rule, is })} />
          <span>when delivered by</span>
          <Words
            label="Ways of delivery"
            list={rule.methods}
            onChange={(methods) => onChange({ ...rule, methods })}
          />
        </Row>
      );
    case "weight":
      return (
        <Row>
          <Kilograms label="From kg" grams={rule.least} onChange={(least) => onChange({ ...rule, least })} />
          <Kilograms
            label="Up to kg"
            grams={rule.greatest}
            onChange={(greatest) => onChange({ ...rule, greatest })}
          />
        </Row>
      );
    case "time":
      return (
        <Row>
          {days.map((day, i) => (
            <Check key={day}>
              <input
                type="checkbox"
                checked={rule.days.includes(i + 1)}
                onChange={(event) =>
                  onChange({
                    ...rule,
                    days: event.target.checked
                      ? [...rule.days, i + 1].sort()
                      : rule.days.filter((one) => one !== i + 1),
                  })
                }
              />
              {day}
            </Check>
          ))}
          {(["from", "until"] as const).map((name) => (
            <Field key={name}>
              {name === "from" ? "From" : "Until"}
              <Input
                type="time"
                value={rule[name]}
                onChange={(event) => onChange({ ...rule, [name]: event.target.value })}
              />
            </Field>
          ))}
          <Field>
            By the clocks of
            <Input value={rule.zone} onChange={(event) => onChange({ ...rule, zone: event.target.value })} />
          </Field>
        </Row>
      );
    case "shopper":
      return (
        <Select
          aria-label="Which shoppers"
          value={rule.is}
          onChange={(event) => onChange({ ...rule, is: event.target.value as "first" | "returning" })}
        >
          <option value="first">only shoppers who order for the first time</option>
          <option value="returning">only shoppers who ordered before</option>
        </Select>
      );
    case "tries":
      return (
        <Field>
          Up to so many refused tries
          <Input
            type="number"
            min={0}
            max={100}
            value={rule.most}
            onChange={(event) => onChange({ ...rule, most: Math.max(0, event.target.valueAsNumber || 0) })}
          />
        </Field>
      );
    case "device":
      return (
        <Select
          aria-label="On which device"
          value={rule.is}
          onChange={(event) => onChange({ ...rule, is: event.target.value as "phone" | "computer" })}
        >
          <option value="phone">only on a phone</option>
          <option value="computer">only on a computer</option>
        </Select>
      );
  }
}

const OnlyOrNot = ({ is, onChange }: { is: boolean; onChange: (is: boolean) => void }) => (
  <Select
    aria-label="Only or never"
    value={is ? "only" : "not"}
    onChange={(event) => onChange(event.target.value === "only")}
  >
    <option value="only">only</option>
    <option value="not">never</option>
  </Select>
);

/** What is typed stays as it was typed for as long as it means what is kept. */
function useTyped<T>(kept: T, read: (text: string) => T, write: (kept: T) => string) {
  const [typed, setTyped] = useState(write(kept));
  const isMeant = JSON.stringify(read(typed)) === JSON.stringify(kept);
  return [isMeant ? typed : write(kept), setTyped] as const;
}

const wordsIn = (text: string) =>
  text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

/** Words of the shop's own, with commas between them. */
function Words({
  label,
  list,
  onChange,
}: {
  label: string;
  list: readonly string[];
  onChange: (list: string[]) => void;
}) {
  const [text, setText] = useTyped<readonly string[]>(list, wordsIn, (words) => words.join(", "));
  return (
    <Input
      aria-label={label}
      placeholder="workshop, voucher"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        onChange(wordsIn(event.target.value));
      }}
    />
  );
}

const gramsIn = (text: string): number | null => {
  const kilograms = Number(text.replace(",", "."));
  return text.trim() !== "" && Number.isFinite(kilograms) && kilograms >= 0
    ? Math.round(kilograms * 1000)
    : null;
};

function Kilograms({
  label,
  grams,
  onChange,
}: {
  label: string;
  grams: number | null;
  onChange: (grams: number | null) => void;
}) {
  const [text, setText] = useTyped(grams, gramsIn, (kept) => (kept === null ? "" : String(kept / 1000)));
  return (
    <Field>
      {label}
      <Input
        inputMode="decimal"
        size={8}
        placeholder="No limit"
        value={text}
        aria-invalid={(text.trim() !== "" && grams === null) || undefined}
        onChange={(event) => {
          setText(event.target.value);
          onChange(gramsIn(event.target.value));
        }}
      />
    </Field>
  );
}

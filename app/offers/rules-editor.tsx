import { useState } from "react";
import { Link, useParams } from "react-router";
import { styled } from "styled-components";
import { isGroup, type Rule, type RuleGroup, type RuleKind, type Rules, rulesSay } from "#core/offers/rules";
import type { Zone } from "#core/offers/zones";
import { CheckBox } from "../parts/check-box";
import { DateBox } from "../parts/date-box";
import { fieldId } from "../parts/error-summary";
import { Button, Field, Input, Wrong } from "../parts/form";
import { SelectBox } from "../parts/select-box";
import { Row, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { offering } from "../words/offering";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";
import { t } from "../words/pages/offers";

const kindWords: Record<RuleKind, string> = {
  zone: t("where-it-goes-or-is"),
  goods: t("kinds-of-goods-within"),
  delivery: t("way-of-delivery-within"),
  weight: t("weight"),
  time: t("days-and-hours"),
  shopper: t("first-or-returning-shoppers"),
  tries: t("refused-tries"),
  device: t("phone-or-computer"),
};
const days = [t("mon"), t("tue"), t("wed"), t("thu"), t("fri"), t("sat"), t("sun")];

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
      <h2>{t("further-conditions")}</h2>
      {rules.rules.length > 0 ? (
        <p>
          <strong>{t("shown-only")}</strong> {offering("en").say(rulesSay(rules, zones))}.
        </p>
      ) : (
        <Small>{t("none-whoever-fits-what-stands")}</Small>
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
        {t("places-under-one-name-are", {
          link: (inner) => <Link to={`/s/${storefront}/offer/zones`}>{inner}</Link>,
        })}
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
        <SelectBox
          label={t("how-they-go-together")}
          value={group.match}
          onChange={(chosen) => onChange({ ...group, match: chosen as "all" | "any" })}
          choices={[
            { id: "all", name: t("all-of-them-have-to") },
            { id: "any", name: t("one-of-them-is-enough") },
          ]}
        />
      )}
      <List>
        {group.rules.map((one, i) => (
          <li key={i} id={fieldId(`${path}.${i}`)}>
            {isGroup(one) ? (
              <Stack $gap={0.4}>
                <strong>{t("these-together")}</strong>
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
                aria-label={t("take-condition-i-away", { i: i + 1 })}
                onClick={() => at(i, null)}
              >
                {t("take-it-away")}
              </Button>
            </Row>
          </li>
        ))}
      </List>
      <Row>
        <SelectBox
          label={t("add-a-condition-about")}
          bare
          value=""
          onChange={(on) => {
            if (on === "group") put([...group.rules, { match: "any", rules: [] }]);
            else if (on) put([...group.rules, fresh(on as RuleKind, zones, timeZone)]);
          }}
          choices={[
            { id: "", name: t("add-a-condition-about-begun") },
            ...Object.entries(kindWords).map(([on, words]) => ({ id: on, name: words })),
            ...(nests ? [{ id: "group", name: t("several-together") }] : []),
          ]}
        />
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
          <SelectBox
            label={t("which-address")}
            bare
            value={rule.at}
            onChange={(chosen) => onChange({ ...rule, at: chosen as "ship" | "bill" })}
            choices={[
              { id: "ship", name: t("where-it-goes-to") },
              { id: "bill", name: t("where-it-is-paid-from") },
            ]}
          />
          {zones.map((zone) => (
            <CheckBox
              key={zone.id}
              checked={rule.zones.includes(zone.id)}
              onChange={(on) =>
                onChange({
                  ...rule,
                  zones: on ? [...rule.zones, zone.id] : rule.zones.filter((id) => id !== zone.id),
                })
              }
            >
              {zone.name}
            </CheckBox>
          ))}
          {zones.length === 0 && <Small>{t("there-is-no-zone-yet")}</Small>}
        </Row>
      );
    case "goods":
      return (
        <Row>
          <OnlyOrNot is={rule.is} onChange={(is) => onChange({ ...rule, is })} />
          <SelectBox
            label={t("how-much-of-the-order")}
            bare
            value={rule.share}
            onChange={(chosen) => onChange({ ...rule, share: chosen as "some" | "all" })}
            choices={[
              { id: "some", name: t("when-there-is-some-of") },
              { id: "all", name: t("when-all-of-it-is") },
            ]}
          />
          <Words
            label={t("kinds-of-goods")}
            list={rule.kinds}
            onChange={(kinds) => onChange({ ...rule, kinds })}
          />
        </Row>
      );
    case "delivery":
      return (
        <Row>
          <OnlyOrNot is={rule.is} onChange={(is) => onChange({ ...rule, is })} />
          <span>{t("when-delivered-by")}</span>
          <Words
            label={t("ways-of-delivery")}
            list={rule.methods}
            onChange={(methods) => onChange({ ...rule, methods })}
          />
        </Row>
      );
    case "weight":
      return (
        <Row>
          <Kilograms
            label={t("from-kg")}
            grams={rule.least}
            onChange={(least) => onChange({ ...rule, least })}
          />
          <Kilograms
            label={t("up-to-kg")}
            grams={rule.greatest}
            onChange={(greatest) => onChange({ ...rule, greatest })}
          />
        </Row>
      );
    case "time":
      return (
        <Row>
          {days.map((day, i) => (
            <CheckBox
              key={day}
              checked={rule.days.includes(i + 1)}
              onChange={(on) =>
                onChange({
                  ...rule,
                  days: on ? [...rule.days, i + 1].sort() : rule.days.filter((one) => one !== i + 1),
                })
              }
            >
              {day}
            </CheckBox>
          ))}
          {(["from", "until"] as const).map((name) => (
            <DateBox
              key={name}
              kind="time"
              label={name === "from" ? t("from") : t("until")}
              value={rule[name]}
              onChange={(text) => onChange({ ...rule, [name]: text })}
            />
          ))}
          <Field>
            {t("by-the-clocks-of")}
            <Input value={rule.zone} onChange={(event) => onChange({ ...rule, zone: event.target.value })} />
          </Field>
        </Row>
      );
    case "shopper":
      return (
        <SelectBox
          label={t("which-shoppers")}
          bare
          value={rule.is}
          onChange={(chosen) => onChange({ ...rule, is: chosen as "first" | "returning" })}
          choices={[
            { id: "first", name: t("only-shoppers-who-order-for") },
            { id: "returning", name: t("only-shoppers-who-ordered-before") },
          ]}
        />
      );
    case "tries":
      return (
        <Field>
          {t("up-to-so-many-refused")}
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
        <SelectBox
          label={t("on-which-device")}
          bare
          value={rule.is}
          onChange={(chosen) => onChange({ ...rule, is: chosen as "phone" | "computer" })}
          choices={[
            { id: "phone", name: t("only-on-a-phone") },
            { id: "computer", name: t("only-on-a-computer") },
          ]}
        />
      );
  }
}

const OnlyOrNot = ({ is, onChange }: { is: boolean; onChange: (is: boolean) => void }) => (
  <SelectBox
    label={t("only-or-never")}
    bare
    value={is ? t("only") : t("not")}
    onChange={(chosen) => onChange(chosen === "only")}
    choices={[
      { id: t("only"), name: t("only") },
      { id: "not", name: t("never-within") },
    ]}
  />
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
      placeholder={t("workshop-voucher")}
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
        placeholder={t("no-limit")}
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

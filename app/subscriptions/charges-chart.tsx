import {
  Bar,
  BarChart,
  CartesianGrid,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import { moneyText } from "#core/money/money";
import type { Forecast } from "#server/subscriptions/list";
import { Small } from "../parts/sheet";
import { useInBrowser } from "../parts/when";
import { color } from "../theme/tokens";
import { t } from "../words/pages/subscriptions";

/** What was due and what came of it, day by day; and what is to be charged from today on. */
export default function ChargesChart({ forecast, locale }: { forecast: Forecast; locale: string }) {
  const drawn = useInBrowser();
  const { currency, before, ahead } = forecast;
  const [today] = ahead;
  const rows = [
    ...before
      .filter(({ day }) => day < (today?.day ?? ""))
      .map(({ day, expected, came }) => ({ day, came, missing: expected - came, coming: 0 })),
    ...ahead.map(({ day, amount }) => {
      const due = before.find((one) => one.day === day);
      return { day, came: due?.came ?? 0, missing: due ? due.expected - due.came : 0, coming: amount };
    }),
  ];
  const text = (amount: number) => moneyText({ amount, currency }, locale);
  const dayText = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });
  const short = (day: string) => dayText.format(Date.parse(day));
  // The library's own markup has inline styles, which the page's policy takes from scripts alone.
  if (!drawn) return <Small>{t("drawing")}</Small>;
  return (
    <ResponsiveContainer width="100%" height={200}>
      <BarChart data={rows} margin={{ top: 8, right: 8, bottom: 0, left: 16 }} accessibilityLayer>
        <CartesianGrid stroke={color.rule} vertical={false} />
        <XAxis dataKey="day" tickFormatter={short} stroke={color.inkSoft} minTickGap={24} />
        <YAxis tickFormatter={text} stroke={color.inkSoft} width={80} />
        <Tooltip
          formatter={(value, name) => [text(Number(value)), String(name)]}
          labelFormatter={(day) => short(String(day))}
          contentStyle={{ background: color.sheet, borderColor: color.ink }}
          cursor={{ fill: color.sunk }}
        />
        {today && (
          <ReferenceLine
            x={today.day}
            stroke={color.ink}
            label={{ value: "today", fill: color.inkSoft, position: "insideTopRight" }}
          />
        )}
        <Bar dataKey="came" name="came" stackId="sum" fill={color.moss} isAnimationActive={false} />
        <Bar
          dataKey="missing"
          name={t("did-not-come")}
          stackId="sum"
          fill={color.madderSoft}
          stroke={color.madder}
          strokeWidth={1.5}
          isAnimationActive={false}
        />
        <Bar
          dataKey="coming"
          name={t("to-be-charged")}
          stackId="sum"
          fill={color.sheet}
          stroke={color.petrol}
          strokeWidth={1.5}
          isAnimationActive={false}
        />
      </BarChart>
    </ResponsiveContainer>
  );
}

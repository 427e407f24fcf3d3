import { useEffect, useState } from "react";
import { CartesianGrid, Legend, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { Curve } from "#core/costs/crossing";
import type { Priced } from "#core/costs/fees";
import type { Volume } from "#core/costs/volume";
import { moneyText } from "#core/money/money";
import { Small } from "../parts/sheet";
import { color } from "../theme/tokens";
import { t } from "../words/pages/costs";

/** Strokes that tell lines apart without their colour. */
const strokes = ["0", "7 4", "2 3", "12 4 2 4", "1 5", "9 3 3 3"];
const inks = [color.ink, color.petrol, color.brass, color.madder, color.moss, color.inkSoft];

/** Cost per order against the average order, for each method on the list; worked out beside the page. */
export default function Charts({
  priced,
  volume,
  locale,
}: {
  priced: Priced[];
  volume: Volume;
  locale: string;
}) {
  const [curves, setCurves] = useState<Curve[] | null>(null);
  useEffect(() => {
    const worker = new Worker(new URL("./costs-worker.ts", import.meta.url), { type: "module" });
    worker.addEventListener("message", (event: MessageEvent<Curve[]>) => setCurves(event.data));
    worker.postMessage({ priced, volume });
    return () => worker.terminate();
  }, [priced, volume]);
  if (!curves) return <Small role="status">{t("working-it-out")}</Small>;
  const { currency } = volume;
  const text = (minor: number) => moneyText({ amount: Math.round(minor), currency }, locale);
  const rows = (curves[0]?.points ?? []).map((point, i) => ({
    average: point.average,
    ...Object.fromEntries(curves.map((curve) => [curve.id, curve.points[i]?.perOrder])),
  }));
  return (
    <ResponsiveContainer width="100%" height={320}>
      <LineChart data={rows} margin={{ top: 8, right: 16, bottom: 8, left: 24 }} accessibilityLayer>
        <CartesianGrid stroke={color.rule} />
        <XAxis
          dataKey="average"
          type="number"
          scale="log"
          domain={["dataMin", "dataMax"]}
          tickFormatter={text}
          stroke={color.inkSoft}
        />
        <YAxis tickFormatter={text} stroke={color.inkSoft} width={80} />
        <Tooltip
          formatter={(value, name) => [
            text(Number(value)),
            curves.find((curve) => curve.id === name)?.name ?? String(name),
          ]}
          labelFormatter={(average) => t("average-order-average", { average: text(Number(average)) })}
          contentStyle={{ background: color.sheet, borderColor: color.ink }}
        />
        <Legend formatter={(id: string) => curves.find((curve) => curve.id === id)?.name ?? id} />
        {curves.map((curve, i) => (
          <Line
            key={curve.id}
            dataKey={curve.id}
            stroke={inks[i % inks.length]}
            strokeWidth={2}
            strokeDasharray={strokes[i % strokes.length]}
            dot={false}
            isAnimationActive={false}
          />
        ))}
      </LineChart>
    </ResponsiveContainer>
  );
}

import { useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { Volume } from "#core/costs/volume";
import { decimalText, parseTyped } from "#core/money/money";
import { type MethodKind, methodKinds } from "#core/profiles/profile";
import { useStorefront } from "../frame/use-storefront";
import { Button, FieldSet, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import { kindWords } from "./cost-words";
import { TextBox } from "../parts/text-box";
import { FileBox } from "../parts/file-box";
import { t } from "../words/pages/costs";

const Pairs = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(9.5rem, 1fr));
  gap: 0.7rem 1rem;
`;

export interface VolumeAnswer {
  ok: boolean;
  problems?: SpokenProblem[];
}

type Counted = Extract<Volume["totals"], { kind: "orders" }>;

/** What the shop sells in a month: a spread that one can say, or the totals of real orders. */
export function VolumeForm({ volume, said, seen }: { volume: Volume; said: boolean; seen: number }) {
  const fetcher = useFetcher<VolumeAnswer>();
  const [counted, setCounted] = useState<Counted | null>(
    volume.totals.kind === "orders" ? volume.totals : null,
  );
  const [unread, setUnread] = useState<string | null>(null);
  const { currency } = volume;
  const { locale } = useStorefront();
  const problems = fetcher.data?.problems ?? [];
  const spread = volume.totals.kind === "spread" ? volume.totals : null;
  const text = (minor: number) => decimalText({ amount: minor, currency });
  const readFile = async (file: File) => {
    const { readOrders } = await import("./order-file");
    const reading = readOrders(await file.text(), currency, locale);
    setUnread(reading.ok ? null : reading.says);
    if (reading.ok) setCounted({ kind: "orders", from: "file", counted: reading.counted });
  };
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="press" value="volume" />
      <input type="hidden" name="counted" value={counted ? JSON.stringify(counted) : ""} />
      <Stack $gap={0.9}>
        <Pairs>
          <TextBox
            label={t("orders-a-month")}
            name="orders"
            inputMode="numeric"
            defaultValue={volume.orders}
            required
            wrong={saysAt(problems, "orders")}
          />
          {!counted && (
            <>
              <TextBox
                label={t("a-tenth-is-below-currency", { currency })}
                name="low"
                inputMode="decimal"
                defaultValue={spread ? text(spread.low) : ""}
                required
                wrong={saysAt(problems, "low")}
              />
              <TextBox
                label={t("a-tenth-is-above-currency", { currency })}
                name="high"
                inputMode="decimal"
                defaultValue={spread ? text(spread.high) : ""}
                required
                wrong={saysAt(problems, "high")}
              />
            </>
          )}
        </Pairs>
        {counted ? (
          <Row>
            <Says meaning="proven">
              {t("reduce-real-orders-from-payments", {
                reduce: counted.counted.reduce((all, [, times]) => all + times, 0),
                file: counted.from === "file" ? "yes" : "no",
              })}
            </Says>
            <Button type="button" $kind="bare" onClick={() => setCounted(null)}>
              {t("say-a-spread-instead")}
            </Button>
          </Row>
        ) : (
          <Row $gap={1.2}>
            <FileBox
              label={t("orders-as-csv")}
              press={t("choose-a-file-of-orders")}
              hint={t("real-orders-instead-a-csv")}
              accept=".csv,text/csv"
              onFile={(file) => void readFile(file)}
            />
            {seen > 0 && (
              <Button name="use" value="seen">
                {t("take-the-seen-payments-seen", { seen })}
              </Button>
            )}
          </Row>
        )}
        <Wrong>{unread ?? saysAt(problems, "totals")}</Wrong>
        <FieldSet>
          <legend>{t("how-shoppers-pay-in-percent")}</legend>
          <Pairs>
            {methodKinds.map((kind: MethodKind) => (
              <TextBox
                key={kind}
                label={kindWords[kind]}
                name={`share-${kind}`}
                inputMode="decimal"
                defaultValue={volume.shares[kind] ?? ""}
              />
            ))}
          </Pairs>
          <Wrong>{saysAt(problems, "shares")}</Wrong>
        </FieldSet>
        <Pairs>
          <Percent
            name="foreign"
            words={t("cards-from-abroad")}
            value={volume.foreign}
            problem={saysAt(problems, "foreign")}
          />
          <Percent
            name="refunds"
            words={t("refunded")}
            value={volume.refunds}
            problem={saysAt(problems, "refunds")}
          />
          <Percent
            name="disputes"
            words={t("disputed")}
            value={volume.disputes}
            problem={saysAt(problems, "disputes")}
          />
          <Percent
            name="platform"
            words={t("the-platform-takes")}
            value={volume.platform.percent}
            problem={saysAt(problems, "platform")}
          />
          <TextBox
            label={t("and-each-order-currency", { currency })}
            name="platform-fixed"
            inputMode="decimal"
            defaultValue={text(volume.platform.fixed[currency] ?? 0)}
          />
        </Pairs>
        <Row>
          <Button $kind="main" disabled={fetcher.state !== "idle"}>
            {t("calculating", { idle: fetcher.state === "idle" ? "yes" : "no" })}
          </Button>
          {!said && <Small>{t("these-are-assumed")}</Small>}
          {fetcher.data?.ok && fetcher.state === "idle" && (
            <Says meaning="proven" role="status">
              {t("saved")}
            </Says>
          )}
        </Row>
      </Stack>
    </fetcher.Form>
  );
}

function Percent({
  name,
  words,
  value,
  problem,
}: {
  name: string;
  words: string;
  value: number;
  problem?: string;
}) {
  return (
    <TextBox label={`${words}, %`} name={name} inputMode="decimal" defaultValue={value} wrong={problem} />
  );
}

/** Reads the form into what `readVolume` takes. Amounts as people type them; nothing typed is nothing. */
export function volumeFrom(form: FormData, currency: string, locale: string): unknown {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const number = (name: string) => (text(name) === "" ? 0 : Number(text(name).replace(",", ".")));
  const minor = (name: string) => {
    const parsed = parseTyped(text(name) || "0", currency, locale);
    return parsed.ok ? parsed.money.amount : Number.NaN;
  };
  const shares = Object.fromEntries(
    methodKinds.flatMap((kind) => (text(`share-${kind}`) === "" ? [] : [[kind, number(`share-${kind}`)]])),
  );
  let totals: unknown = { kind: "spread", low: minor("low"), high: minor("high") };
  if (text("counted") !== "") {
    try {
      totals = JSON.parse(text("counted"));
    } catch {
      totals = {};
    }
  }
  return {
    currency,
    orders: number("orders"),
    totals,
    shares,
    foreign: number("foreign"),
    refunds: number("refunds"),
    disputes: number("disputes"),
    platform: { percent: number("platform"), fixed: { [currency]: minor("platform-fixed") } },
  };
}

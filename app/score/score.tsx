import { useState } from "react";
import { styled } from "styled-components";
import { type Lane, lanes, type ScoreRow as SaidScoreRow } from "#core/score";
import type { MessageDetail as SaidMessageDetail } from "#server/payments/story";
import { CopyValue } from "../parts/copy";
import { Mark } from "../parts/marks";
import { Mono, Row, Small, Stack } from "../parts/sheet";
import { color, mono, tabular } from "../theme/tokens";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/score";

type ScoreRow = Spoken<SaidScoreRow>;
type MessageDetail = Spoken<SaidMessageDetail>;

const laneNames: Record<Lane, string> = {
  shopper: t("shopper"),
  shop: t("shop"),
  zahlung: "Zahlung",
  provider: t("provider"),
};
/** Centre of each lane, per cent of the staff's width. */
const laneAt: Record<Lane, number> = { shopper: 12.5, shop: 37.5, zahlung: 62.5, provider: 87.5 };

const Heads = styled.div`
  display: grid;
  grid-template-columns: 4.8rem minmax(0, 1fr);
  position: sticky;
  top: 0;
  background: ${color.sheet};
  z-index: 1;
  font-weight: 700;
  border-bottom: 1.5px solid ${color.ink};
  div {
    display: grid;
    grid-template-columns: repeat(4, 1fr);
    text-align: center;
  }
`;
/** The lanes run through the whole of it, through the time between messages too. */
const lane = (part: number) => `calc(4.8rem + (100% - 4.8rem) * ${part / 100})`;
const Lines = styled.ol`
  background-image: ${Array.from({ length: 4 }, () => `linear-gradient(${color.rule}, ${color.rule})`).join(", ")};
  background-position: ${[12.5, 37.5, 62.5, 87.5].map((part) => `${lane(part)} 0`).join(", ")};
  background-size: 1.5px 100%;
  background-repeat: no-repeat;
`;
/** Short waits are drawn as long as they were, up to two seconds; longer ones are cut and say how long. */
const Wait = styled.li<{ $gap: number }>`
  height: ${({ $gap }) => ((Math.min($gap, 2000) / 2000) * 1.6).toFixed(2)}rem;
`;
const Press = styled.button<{ $ok: boolean }>`
  display: grid;
  grid-template-columns: 4.8rem minmax(0, 1fr);
  width: 100%;
  align-items: center;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  text-align: left;
  color: ${({ $ok }) => ($ok ? color.ink : color.madder)};
  &:hover,
  &[aria-expanded="true"] {
    background: ${color.petrolSoft};
    span span {
      background: ${color.petrolSoft};
    }
  }
  time {
    color: ${color.inkSoft};
    font-size: 0.85rem;
    ${tabular}
  }
`;
const Staff = styled.span`
  position: relative;
  display: block;
  height: 3rem;
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    overflow: visible;
  }
`;
const Said = styled.span<{ $left: number }>`
  position: absolute;
  left: ${({ $left }) => $left}%;
  top: 0.2rem;
  transform: translateX(-50%);
  max-width: 46%;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 0.88rem;
  padding: 0 0.35rem;
  background: ${color.sheet};
`;
const Answer = styled(Said)`
  top: 1.75rem;
  color: ${color.inkSoft};
  font-size: 0.82rem;
`;
const Pause = styled.li`
  text-align: center;
  font-size: 0.85rem;
  color: ${color.brass};
  padding: 0.15rem 0;
  background: ${color.sheet};
  border-block: 1px dotted ${color.ruleStrong};
`;
const Opened = styled.div`
  margin: 0.2rem 0 0.8rem 4.8rem;
  border-left: 4px solid ${color.petrol};
  padding: 0.5rem 0.9rem;
  background: ${color.sunk};
  pre {
    margin: 0;
    font-family: ${mono};
    font-size: 0.82rem;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
    max-height: 22rem;
    overflow: auto;
  }
`;

const since = (ms: number) =>
  ms < 1000
    ? t("ms-ms", { ms })
    : ms < 60_000
      ? `+${(ms / 1000).toFixed(1)} s`
      : ms < 3_600_000
        ? t("ms-min", { ms: Math.round(ms / 60_000) })
        : ms < 172_800_000
          ? `+${Math.round(ms / 3_600_000)} h`
          : `+${Math.round(ms / 86_400_000)} d`;

/** One payment as lanes with every recorded message between them, in time. Any arrow opens its message. */
export function Score({
  rows,
  details,
}: {
  rows: readonly ScoreRow[];
  details: Record<string, MessageDetail>;
}) {
  const [open, setOpen] = useState<string | null>(null);
  if (rows.length === 0) return <Small>{t("no-message-is-recorded")}</Small>;
  return (
    <div>
      <Heads>
        <span />
        <div>
          {lanes.map((lane) => (
            <span key={lane}>{laneNames[lane]}</span>
          ))}
        </div>
      </Heads>
      <Lines>
        {rows.flatMap((row) => [
          row.pause !== null ? (
            <Pause key={`${row.id}-pause`}>
              {t("pause-of-silence", { pause: since(row.pause).slice(1) })}
            </Pause>
          ) : row.gap > 0 ? (
            <Wait key={`${row.id}-wait`} $gap={row.gap} aria-hidden="true" />
          ) : null,
          <li key={row.id}>
            <Press
              type="button"
              $ok={row.ok}
              aria-expanded={open === row.id}
              onClick={() => setOpen(open === row.id ? null : row.id)}
            >
              <time dateTime={new Date(row.at).toISOString()} title={new Date(row.at).toISOString()}>
                {since(row.sinceStart)}
              </time>
              <Arrow row={row} />
              <span className="quiet">
                {t("from-to-label-answer", {
                  from: laneNames[row.from],
                  to: laneNames[row.to],
                  label: row.label,
                  answer: row.answer ?? "",
                  hasOk: row.ok ? "yes" : "no",
                })}
              </span>
            </Press>
            {open === row.id && <Detail row={row} detail={details[row.id]} />}
          </li>,
        ])}
      </Lines>
    </div>
  );
}

function Arrow({ row }: { row: ScoreRow }) {
  const [from, to] = [laneAt[row.from], laneAt[row.to]];
  const stroke = row.ok ? color.ink : color.madder;
  const middle = (from + to) / 2;
  const right = to > from;
  const tip = to + (right ? -0.2 : 0.2);
  return (
    <Staff aria-hidden="true">
      <svg>
        <line
          x1={`${from}%`}
          x2={`${tip}%`}
          y1="25"
          y2="25"
          stroke={stroke}
          strokeWidth="2"
          strokeDasharray={row.ok ? undefined : "5 4"}
        />
        <circle cx={`${from}%`} cy="25" r="3.5" fill={stroke} />
        <svg x={`${to}%`} y="25" overflow="visible">
          <path d={right ? "M0 0-9-5v10z" : "M0 0 9-5v10z"} fill={stroke} />
        </svg>
      </svg>
      <Said $left={middle}>{row.label}</Said>
      {row.answer && <Answer $left={middle}>{row.answer}</Answer>}
    </Staff>
  );
}

const pretty = (body: string) => {
  try {
    return JSON.stringify(JSON.parse(body), null, 2);
  } catch {
    return body;
  }
};

function Detail({ row, detail }: { row: ScoreRow; detail: MessageDetail | undefined }) {
  if (!detail) return null;
  const { request, response, outcome } = detail;
  return (
    <Opened>
      <Stack $gap={0.6}>
        <Row>
          <Mark meaning={row.ok ? "proven" : "wrong"} />
          <strong>{row.label}</strong>
          {row.duration !== null && (
            <Small as="span">{t("took-duration-ms", { duration: row.duration })}</Small>
          )}
          <CopyValue
            value={JSON.stringify({ at: new Date(row.at).toISOString(), ...detail }, null, 2)}
            label={t("copy-as-json")}
            plain
          />
        </Row>
        {request?.url && (
          <Mono>
            {request.method} {request.url}
          </Mono>
        )}
        {request?.body && <pre tabIndex={0}>{pretty(request.body)}</pre>}
        {outcome && <p>{outcome}</p>}
        {response && (
          <>
            <Mono>{t("answered-status", { status: response.status })}</Mono>
            {response.body && <pre tabIndex={0}>{pretty(response.body)}</pre>}
          </>
        )}
      </Stack>
    </Opened>
  );
}

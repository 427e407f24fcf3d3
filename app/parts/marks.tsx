import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import { type PaymentState, stateWords } from "#core/payments/facts";
import { color, hatch } from "../theme/tokens";
import { t } from "../words/pages/everywhere";

export type Meaning = "proven" | "waits" | "wrong" | "none" | "running";

const ink: Record<Meaning, string> = {
  proven: color.moss,
  waits: color.brass,
  wrong: color.madder,
  none: color.ruleStrong,
  running: color.petrol,
};

/** A small shape that carries a meaning; colour only helps. Bar: proven. Sandglass: waits. Cross: wrong. Ring: none. */
export function Mark({ meaning, size = 14 }: { meaning: Meaning; size?: number }) {
  const stroke = ink[meaning];
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" aria-hidden="true" focusable="false">
      {meaning === "proven" && (
        <>
          <rect x="1" y="1" width="12" height="12" fill={stroke} />
          <path d="M3.6 7.2 6 9.6l4.4-5" fill="none" stroke={color.sheet} strokeWidth="1.8" />
        </>
      )}
      {meaning === "waits" && <path d="M2 1h10L7 7l5 6H2l5-6z" fill={stroke} />}
      {meaning === "wrong" && <path d="M2 2l10 10M12 2 2 12" stroke={stroke} strokeWidth="2.8" />}
      {meaning === "none" && <circle cx="7" cy="7" r="5" fill="none" stroke={stroke} strokeWidth="1.6" />}
      {meaning === "running" && (
        <>
          <circle cx="7" cy="7" r="5" fill="none" stroke={stroke} strokeWidth="1.6" />
          <circle cx="7" cy="7" r="2.4" fill={stroke} />
        </>
      )}
    </svg>
  );
}

const Said = styled.span<{ $meaning: Meaning }>`
  display: inline-flex;
  gap: 0.45rem;
  align-items: baseline;
  color: ${({ $meaning }) => ($meaning === "none" ? color.inkSoft : ink[$meaning])};
  font-weight: 600;
  svg {
    flex: none;
    transform: translateY(0.1em);
  }
`;

/** A mark with its words. */
export function Says({
  meaning,
  children,
  ...rest
}: {
  meaning: Meaning;
  children: React.ReactNode;
  role?: string;
}) {
  return (
    <Said $meaning={meaning} {...rest}>
      <Mark meaning={meaning} />
      <span>{children}</span>
    </Said>
  );
}

const NoteBox = styled.div<{ $meaning: Meaning }>`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0.6rem;
  align-items: baseline;
  padding: 0.55rem 0.8rem;
  border-left: 4px solid ${({ $meaning }) => ink[$meaning]};
  background: ${({ $meaning }) =>
    ({
      proven: color.mossSoft,
      waits: color.brassSoft,
      wrong: color.madderSoft,
      none: color.sunk,
      running: color.petrolSoft,
    })[$meaning]};
  svg {
    transform: translateY(0.12em);
  }
`;

/** Something that has to be read now. */
export function Note({ meaning, children }: { meaning: Meaning; children: React.ReactNode }) {
  return (
    <NoteBox $meaning={meaning} role={meaning === "wrong" ? "alert" : "status"}>
      <Mark meaning={meaning} />
      <div>{children}</div>
    </NoteBox>
  );
}

const Plate = styled.span<{ $mode: Mode }>`
  display: inline-block;
  padding: 0.02rem 0.5rem;
  font-size: 0.86rem;
  font-weight: 700;
  border: 1.5px ${({ $mode }) => ($mode === "test" ? "dashed" : "solid")} ${color.ink};
  background: ${({ $mode }) => ($mode === "test" ? hatch : color.ink)};
  color: ${({ $mode }) => ($mode === "test" ? color.ink : color.sheet)};
`;

/** Test: dashed and hatched. Live: solid. */
export const ModePlate = ({ mode }: { mode: Mode }) => (
  <Plate $mode={mode}>{t("live", { test: mode === "test" ? "yes" : "no" })}</Plate>
);

const meaningOfState: Record<PaymentState, Meaning> = {
  created: "running",
  pending: "waits",
  authorised: "waits",
  captured: "proven",
  "partly-captured": "proven",
  voided: "none",
  declined: "wrong",
  failed: "wrong",
  expired: "none",
  cancelled: "none",
  refunded: "none",
  "partly-refunded": "proven",
  disputed: "wrong",
};

/**
 * Where a payment stands. One of nothing that has come to its end at a provider has shown that what it would be paid with is
 * good; without a provider it has shown nothing.
 */
export const StateMark = ({
  of: { state, amount, connectionId },
}: {
  of: { state: PaymentState; amount: number; connectionId: string | null };
}) => (
  <Says meaning={meaningOfState[state]}>
    {amount === 0 && state === "captured" && connectionId !== null ? t("verified") : stateWords(state)}
  </Says>
);

import type { Finding } from "./run";

/** A finding in words. */
type Spoken = Omit<Finding, "says"> & { says: string };

const marks = { true: "holds", false: "FAILS", null: "not tried" } as const;

/** The findings as a table for a terminal, and under it each exchange at fault. */
export function tableOf(findings: readonly Spoken[]): string {
  const width = Math.max(...findings.map((one) => one.what.length), 4);
  const rows = findings.map(
    ({ what, holds, says }) => `${marks[`${holds}`].padEnd(9)}  ${what.padEnd(width)}  ${says}`,
  );
  const faults = findings.flatMap(({ what, holds, exchange }) => {
    if (holds !== false || !exchange) return [];
    const { request, response } = exchange;
    return [
      "",
      `— ${what}`,
      `  ${request?.method ?? ""} ${request?.url ?? ""}`,
      ...(request?.body ? [`  ${request.body}`] : []),
      response ? `  ${String(response.status)} ${response.body.slice(0, 1500)}` : "  no answer",
    ];
  });
  const count = (holds: boolean | null) => findings.filter((one) => one.holds === holds).length;
  return [...rows, ...faults, "", `${count(true)} hold, ${count(false)} fail, ${count(null)} not tried`].join(
    "\n",
  );
}

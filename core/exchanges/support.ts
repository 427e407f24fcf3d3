import type { HarExchange } from "./har";

/** What a provider's support asks for first: the times, the references and the exchange, secrets masked. */
export function supportBundle(
  provider: string,
  mode: "test" | "live",
  account: string | null,
  references: readonly string[],
  { at, duration, label, outcome, request, response }: HarExchange,
): string {
  const block = (headers: Record<string, string>, body: string) => [
    ...Object.entries(headers).map(([name, value]) => `${name}: ${value}`),
    ...(body ? ["", body] : []),
  ];
  return [
    `${provider}, ${mode === "test" ? "sandbox" : "live"}${account ? `, account ${account}` : ""}`,
    `What: ${label}`,
    `When: ${new Date(at).toISOString()}${duration === null ? "" : `, answered after ${duration} ms`}`,
    ...(references.length > 0 ? [`References: ${references.join(", ")}`] : []),
    ...(outcome ? [`Outcome: ${outcome}`] : []),
    "",
    `> ${request?.method ?? ""} ${request?.url ?? ""}`,
    ...block(request?.headers ?? {}, request?.body ?? "").map((line) => `> ${line}`),
    "",
    ...(response
      ? [`< ${response.status ?? ""}`, ...block(response.headers, response.body).map((line) => `< ${line}`)]
      : ["< no answer"]),
  ].join("\n");
}

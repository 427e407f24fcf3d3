import type { ProfileMethod } from "#core/profiles/profile";
import type { Run } from "./run";

/**
 * Tries a purchase by a button as far as nobody has to choose an address: it opens with a page for the shopper, reads as open,
 * and one that is not there is none. What a shopper agrees to is rehearsed.
 */
export async function openedByButton(run: Run, method: ProfileMethod): Promise<void> {
  const { options, rt } = run;
  if (!method.button) return;
  const what = "A purchase by the button";
  const made = await run.ask("openSession", {
    ...run.order(method),
    domain: options.domain ?? "",
    askAddress: `${rt.settings.origin}/wallets/conformance`,
  });
  if (made.kind !== "answered") return run.refused(what, "openSession", made);
  const { ref, address } = made.value;
  const read = await run.ask("readSession", { ref });
  if (read.kind !== "answered") return run.refused(what, "readSession", read);
  await run.hold(
    what,
    URL.canParse(address) && read.value.state === "open",
    "It opens with a page for the shopper.",
    `It is “${read.value.state}” at ${address}; it should be open at the address of a page.`,
  );
  const missing = await run.ask("readSession", { ref: "conform-nobody" });
  await run.hold(
    "readSession, nothing there",
    missing.kind === "refused" && missing.problem.kind === "not-found",
    "Refused as not found.",
    missing.kind === "refused"
      ? `It is refused as ${missing.problem.kind} (${missing.problem.code}); “problems” should say not-found.`
      : "Something was read.",
  );
}

import { cutOver, fallBack, type Leg } from "#server/cutover/cutover";
import {
  cutoverBy,
  restoreAtOnce,
  restoreToWorking,
  type Restored,
  stepBack,
} from "#server/cutover/snapshots";
import { putLive } from "#server/offers/offline";
import { tell } from "../words/spoken.server";
import type { Runtime } from "#server/runtime";
import { t } from "../words/pages/cutover-answers";

export type Pressed = { ok: true; says: string | null } | { ok: false; says: string; status: number };

const LONGEST_REASON = 300;

const from = (restored: Restored): Pressed =>
  restored.ok
    ? { ok: true, says: tell(restored.says) }
    : { ok: false, says: tell(restored.says), status: 409 };

/** The legs that a form names: each a connection with what was looked at, and its offers where not all move. */
function legsFrom(form: FormData): Leg[] {
  const list = (name: string) =>
    String(form.get(name) ?? "")
      .split(",")
      .filter(Boolean);
  return form.getAll("connection").map((id): Leg => {
    const connectionId = String(id);
    const offerIds = list(`offers ${connectionId}`);
    return {
      connectionId,
      revisionIds: list(`revisions ${connectionId}`),
      ...(offerIds.length > 0 && { offerIds }),
    };
  });
}

/** Does what was pressed at the interlocking of a storefront; null for a press that it does not have. */
export async function press(
  rt: Runtime,
  person: string,
  storefrontId: string,
  form: FormData,
): Promise<Pressed | null> {
  const pressed = String(form.get("press") ?? "");
  const connection = String(form.get("connection") ?? "");
  switch (pressed) {
    case "cut-over": {
      const moved = await cutOver(rt, person, storefrontId, legsFrom(form));
      return moved.ok ? { ok: true, says: null } : { ok: false, says: tell(moved.says), status: 409 };
    }
    case "put-live": {
      const which = { storefrontId, offerId: String(form.get("offer") ?? "") };
      const put = await putLive(rt, person, which, Number(form.get("revision")));
      return put.ok ? { ok: true, says: null } : { ok: false, says: tell(put.says), status: 409 };
    }
    case "fall-back":
      return (await fallBack(rt, person, storefrontId, connection))
        ? { ok: true, says: null }
        : { ok: false, says: t("it-is-not-live"), status: 409 };
    case "step-back":
      return from(await stepBack(rt, person, storefrontId, connection));
    case "to-working":
    case "restore": {
      const cutover = await cutoverBy(rt, storefrontId, String(form.get("cutover") ?? ""));
      if (!cutover) return { ok: false, says: t("there-is-no-such-movement"), status: 404 };
      if (pressed === "to-working") return from(await restoreToWorking(rt, person, storefrontId, cutover));
      const reason = String(form.get("reason") ?? "")
        .trim()
        .slice(0, LONGEST_REASON);
      if (reason === "") return { ok: false, says: t("say-why-it-goes-into"), status: 422 };
      return from(await restoreAtOnce(rt, person, storefrontId, cutover, reason));
    }
    default:
      return null;
  }
}

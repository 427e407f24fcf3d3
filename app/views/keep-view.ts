import { data } from "react-router";
import type { Storefront } from "#server/database/rows";
import type { Runtime } from "#server/runtime";
import { forgetView, saveView, viewQuery, type ViewedList } from "#server/views/views";
import { t } from "../words/pages/parts";

/** What a press beside a list's filter does: its view is kept, or one is forgotten. */
export async function keepView(
  rt: Runtime,
  person: { email: string },
  storefront: Pick<Storefront, "id">,
  list: ViewedList,
  form: FormData,
) {
  if (form.get("press") === "forget-view") {
    await forgetView(rt, storefront.id, String(form.get("view") ?? ""));
    return { ok: true as const, says: t("forgotten") };
  }
  if (form.get("press") !== "save-view") throw data(t("that-cannot-be-done-here"), { status: 400 });
  const view = { name: String(form.get("name") ?? ""), query: viewQuery(String(form.get("query") ?? "")) };
  const saved = await saveView(rt, person.email, storefront.id, list, view);
  if (saved === "saved") return { ok: true as const, says: t("kept") };
  const says = saved === "no-name" ? t("give-it-a-name") : t("there-are-thirty-already-forget");
  return data({ ok: false as const, says }, { status: 422 });
}

import { data } from "react-router";
import { isMode } from "#core/mode";
import { readOrder } from "#core/orders/order";
import { said } from "#core/said";
import { checkoutAddress, openCheckout } from "#server/checkouts/checkouts";
import { servedBy } from "#server/connections/connections";
import type { Storefront } from "#server/database/rows";
import { keepPicture } from "#server/looks/pictures";
import { type Followed, follow, takeFromLeader } from "#server/offers/following";
import { copyOffline, putLive } from "#server/offers/offline";
import { copyOffer, removeOffer, saveOffer, switchOffer } from "#server/offers/offers";
import { nameOf } from "#server/offers/names";
import type { Runtime } from "#server/runtime";
import { allStorefronts } from "#server/storefronts/storefronts";
import type { AnyOffer } from "#server/storefronts/now";
import { leadOn } from "../frame/lead-on.server";
import { spoken, tell } from "../words/spoken.server";
import { t } from "../words/pages/offers-answers";

interface Press {
  rt: Runtime;
  person: string;
  storefront: Storefront;
  found: AnyOffer;
  form: FormData;
}

/** Does what was pressed on the sheet of an offer. */
export async function press({ rt, person, storefront, found, form }: Press) {
  switch (form.get("press")) {
    case "save": {
      const saved = await saveOffer(
        rt,
        person,
        storefront,
        found,
        readJson(form.get("document")),
        Number(form.get("basedOn")),
      );
      return saved.ok
        ? data(spoken(saved))
        : data(spoken(saved), { status: "overtakenBy" in saved ? 409 : 422 });
    }
    case "picture": {
      const file = form.get("picture");
      if (!(file instanceof File)) throw data(t("no-picture-came-with-this"), { status: 400 });
      const kept = await keepPicture(rt, file);
      return kept.ok ? data(kept) : data({ ok: false as const, says: tell(kept.says) }, { status: 422 });
    }
    case "off":
    case "on": {
      const mode = form.get("mode");
      if (!isMode(mode)) throw data(t("there-is-no-such-side"), { status: 400 });
      const off = form.get("press") === "off";
      const which = { storefrontId: storefront.id, offerId: found.offer.id };
      const inPlace = form.get("in-place") === "1";
      const switched = await switchOffer(rt, person, which, mode, off, { inPlace });
      return switched.ok
        ? data({ ok: true as const, revision: found.working.number })
        : data(
            {
              ok: false as const,
              clash: tell(switched.says),
              rivals: (switched.rivals ?? []).map(tell),
              mode,
            },
            { status: 409 },
          );
    }
    case "remove": {
      const which = { storefrontId: storefront.id, offerId: found.offer.id };
      const removed = await removeOffer(rt, person, which);
      if (!removed.ok)
        return data({ ok: false as const, clash: tell(removed.says), rivals: [] }, { status: 409 });
      throw leadOn(`/s/${storefront.id}/offer`, said("done.offer-removed", { offer: nameOf(found) }));
    }
    case "put-live": {
      const which = { storefrontId: storefront.id, offerId: found.offer.id };
      const put = await putLive(rt, person, which, Number(form.get("revision")));
      return put.ok
        ? data({ ok: true as const, revision: found.working.number })
        : data({ ok: false as const, clash: tell(put.says), rivals: [] }, { status: 409 });
    }
    case "copy": {
      const to = String(form.get("to") ?? "");
      if (found.way === "provider" && !(await servedBy(rt, found.connection.id)).includes(to))
        throw data(t("its-connection-does-not-serve"), { status: 400 });
      const copied = await (found.way === "provider"
        ? copyOffer(rt, person, found, to)
        : copyOffline(rt, person, found, to));
      if (!copied.ok)
        return data({ ok: false as const, clash: tell(copied.says), rivals: [] }, { status: 409 });
      if (form.get("follows") === "yes")
        await follow(
          rt,
          person,
          { storefrontId: to, offerId: copied.id },
          found.offer.followsId ?? found.offer.id,
        );
      const where = (await allStorefronts(rt)).find((one) => one.id === to)?.name ?? to;
      throw leadOn(
        `/s/${to}/offer/${copied.id}`,
        said("done.offer-copied", { offer: nameOf(found), storefront: where }),
      );
    }
    case "follow":
    case "follow-none": {
      const which = { storefrontId: storefront.id, offerId: found.offer.id };
      const leader = form.get("press") === "follow" ? String(form.get("leader") ?? "") : null;
      return followed(await follow(rt, person, which, leader));
    }
    case "take": {
      const which = { storefrontId: storefront.id, offerId: found.offer.id };
      const path = String(form.get("path") ?? "");
      return followed(await takeFromLeader(rt, person, which, path === "" ? "all" : [path]));
    }
    case "walk": {
      const reading = readOrder(readJson(form.get("order")));
      if (!reading.ok)
        return data(
          {
            ok: false as const,
            walk: reading.problems.map((one) => `${one.pointer} ${one.detail}`).join("; "),
          },
          { status: 422 },
        );
      const order = {
        ...reading.order,
        // Each walk is an order of its own, or the second would be a surplus.
        reference: `${reading.order.reference}-${rt.ids.next("w").slice(-8).toUpperCase()}`.slice(-64),
        returnAddress: `${rt.settings.origin}/s/${storefront.id}/rehearse`,
      };
      const checkout = await openCheckout(
        rt,
        { storefrontId: storefront.id, mode: "test", origin: "walk", order },
        {
          at: rt.now(),
          from: "shop",
          to: "zahlung",
          label: said("checkouts.walked"),
          ok: true,
        },
      );
      return data({ ok: true as const, address: checkoutAddress(rt, checkout) });
    }
    default:
      throw data(t("that-cannot-be-done-here"), { status: 400 });
  }
}

const followed = (done: Followed) =>
  done.ok
    ? data({ ok: true as const, followed: true as const })
    : data(
        { ok: false as const, clash: done.problems.map((one) => tell(one)).join(" "), rivals: [] },
        { status: 422 },
      );

function readJson(value: FormDataEntryValue | null): unknown {
  try {
    return JSON.parse(String(value));
  } catch {
    throw data(t("the-form-is-malformed"), { status: 400 });
  }
}

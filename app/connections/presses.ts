import { said, sentences, type Told } from "#core/said";
import { leadOn } from "../frame/lead-on.server";
import { tell } from "../words/spoken.server";
import { data, redirect } from "react-router";
import { isMode, type Mode, modes } from "#core/mode";
import { readPage, readPaste } from "#core/connections/paste";
import { fieldOf } from "#core/profiles/profile";
import { LONGEST_NAME, renameConnection, type ConnectionWithProfile } from "#server/connections/connections";
import { disconnect, serveStorefront } from "#server/connections/disconnect";
import { lookAtDomain, takeFile } from "#server/connections/domain";
import { enterKey, enterKeys } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import { startLink } from "#server/connections/link";
import { retireKeys } from "#server/connections/rotation";
import {
  lookAtRegistrations,
  mendRegistrations,
  pingWebhook,
  registerWebhook,
  renewWebhook,
} from "#server/connections/webhook";
import type { Runtime } from "#server/runtime";
import { agreeToAccount } from "#server/connections/account-change";
import type { Storefront } from "#server/database/rows";
import { takeUpVersion } from "#server/profiles/take-up";
import { t } from "../words/pages/connections-answers";

/** What a press on the handshake sheet led to. */
export interface Answer {
  kept: boolean;
  says: string | null;
  trimmed?: boolean;
  /** The row and column that a refused value belongs to. */
  belongs?: { field: string; mode: Mode; label: string };
}

interface Press {
  rt: Runtime;
  person: string;
  where: ConnectionWithProfile;
  storefront: Storefront;
  form: FormData;
}

const done = (says: Told | null = null): Answer => ({ kept: true, says: says && tell(says) });
const refused = (says: Told) => data<Answer>({ kept: false, says: tell(says) }, { status: 422 });
const attempted = (attempt: { ok: true } | { ok: false; says: Told }) =>
  attempt.ok ? done() : refused(attempt.says);
const text = (form: FormData, name: string) => String(form.get(name) ?? "");

/** Does what was pressed on the sheet: something about the connection as a whole, or about one of its columns. */
export async function press(input: Press) {
  const { rt, person, where, storefront, form } = input;
  const pressed = text(form, "press");
  switch (pressed) {
    case "rename": {
      const name = text(form, "name").trim();
      if (name === "") return refused(t("it-needs-a-name"));
      if (name.length > LONGEST_NAME) return refused(t("at-most-letters", { most: LONGEST_NAME }));
      await renameConnection(rt, person, where.connection.id, name);
      return done(t("it-is-called-name-now", { name }));
    }
    case "serve":
    case "unserve":
      return attempted(
        await serveStorefront(rt, person, where, text(form, "storefront"), pressed === "serve"),
      );
    case "take-up": {
      const taken = await takeUpVersion(rt, person, where, text(form, "version"));
      return taken.ok ? done(taken.says) : refused(taken.says);
    }
    case "paste-page":
      return pastePage(input);
    case "agree":
      return attempted(await agreeToAccount(rt, person, where, text(form, "account")));
    case "disconnect": {
      const gone = await disconnect(rt, person, where);
      if (!gone.ok) return refused(gone.says);
      throw leadOn(
        `/s/${storefront.id}/connect`,
        said("done.disconnected", { connection: where.connection.name }),
      );
    }
  }
  const mode = form.get("mode");
  if (!isMode(mode)) throw data(t("there-is-no-such-column"), { status: 400 });
  return pressInColumn(input, pressed, mode);
}

async function pressInColumn({ rt, person, where, storefront, form }: Press, pressed: string, mode: Mode) {
  switch (pressed) {
    case "enter": {
      const field = text(form, "field");
      if (!fieldOf(where.profile, field)) throw data(t("there-is-no-such-field"), { status: 400 });
      const check = await enterKey(rt, person, where, mode, field, text(form, "value"));
      if (!check.ok)
        return data<Answer>(
          {
            kept: false,
            says: tell(check.says),
            trimmed: check.trimmed,
            ...(check.belongs && {
              belongs: {
                ...check.belongs,
                label: `${fieldOf(where.profile, check.belongs.field)?.label ?? ""}, ${check.belongs.mode}`,
              },
            }),
          },
          { status: 422 },
        );
      return { ...done(check.trimmed ? t("stray-spaces-were-taken-off") : null), trimmed: check.trimmed };
    }
    case "paste":
      return pasteSeveral({ rt, person, where, storefront, form }, mode);
    case "prove":
      await Promise.all([proveKeys(rt, where, mode), lookAtRegistrations(rt, where, mode)]);
      return done();
    case "register": {
      const registered = await registerWebhook(rt, person, where, mode);
      // A message proves it; where one can be asked for, it is.
      if (registered.ok && where.profile.operations.pingWebhook) await pingWebhook(rt, where, mode);
      return attempted(registered);
    }
    case "mend":
      return attempted(await mendRegistrations(rt, person, where, mode));
    case "ping":
      return attempted(await pingWebhook(rt, where, mode));
    case "renew":
      return attempted(await renewWebhook(rt, person, where, mode));
    case "retire":
      return (await retireKeys(rt, person, where, mode))
        ? done(t("the-earlier-keys-are-forgotten"))
        : refused(t("there-are-no-earlier-keys"));
    case "link": {
      const address = await startLink(rt, person, where, storefront.id, mode);
      if (!address) return refused(t("name-has-no-linking", { name: where.profile.name }));
      throw redirect(address);
    }
    case "file": {
      const findings = await takeFile(
        rt,
        person,
        where,
        mode,
        storefront.id,
        text(form, "name"),
        text(form, "text"),
      );
      const blocking = findings.filter((one) => one.blocking);
      return blocking.length > 0 ? refused(sentences(blocking.map((one) => one.says))) : done();
    }
    case "look":
      await lookAtDomain(rt, person, where, storefront, mode);
      return done();
    default:
      throw data(t("that-cannot-be-done-here"), { status: 400 });
  }
}

/** A page of a dashboard that was pasted onto the sheet: each value goes to the row and column whose form it has. */
async function pastePage({ rt, person, where, form }: Press) {
  const page = readPage(where.profile, text(form, "text"));
  const label = (id: string) => fieldOf(where.profile, id)?.label ?? id;
  const said: string[] = [];
  let kept = 0;
  for (const mode of modes) {
    const entered = await enterKeys(rt, person, where, mode, page[mode]);
    for (const [id, check] of Object.entries(entered)) {
      if (check.ok) kept += 1;
      said.push(`${label(id)}, ${mode}${check.ok ? "" : `: ${tell(check.says)}`}`);
    }
  }
  if (said.length === 0) return refused(t("nothing-in-what-you-pasted", { name: where.profile.name }));
  return kept > 0 ? done(t("filled-said", { said: said.join("; ") })) : refused(said.join(" "));
}

async function pasteSeveral({ rt, person, where, form }: Press, mode: Mode) {
  const pasted = readPaste(where.profile, mode, text(form, "text"));
  const label = (id: string) => fieldOf(where.profile, id)?.label ?? id;
  const left =
    pasted.left.length > 0 ? t("left-over-left", { left: pasted.left.slice(0, 5).join(", ") }) : "";
  if (Object.keys(pasted.fields).length === 0)
    return refused(t("nothing-in-it-looks-like", { name: where.profile.name, mode, left }));
  const entered = await enterKeys(rt, person, where, mode, pasted.fields);
  const kept = Object.entries(entered).filter(([, check]) => check.ok);
  const not = Object.entries(entered).flatMap(([id, check]) =>
    check.ok ? [] : [`${label(id)}: ${tell(check.says)}`],
  );
  if (kept.length === 0) return refused(not.join(" "));
  return done(
    t("filled-kept-not-left", {
      kept: kept.map(([id]) => label(id)).join(", "),
      not: not.join(" "),
      left,
    }).trim(),
  );
}

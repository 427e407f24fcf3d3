// Goes on with a purchase by a button, as a process that a test can kill while the shop or the provider is asked.
import { goOn } from "#server/buttons/go-on";
import { sessionByToken } from "#server/buttons/sessions";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { must } from "../../demo/play";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
process.on("message", () => {
  void sessionByToken(rt, process.env.TOKEN ?? "").then((session) =>
    goOn(rt, must(session, "purchase"), true),
  );
});
process.send?.("ready");

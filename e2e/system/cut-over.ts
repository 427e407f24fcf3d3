// Moves the lever once, as a process that a test can kill in the middle.
import { cutOver } from "#server/cutover/cutover";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { lockedNow } from "../../demo/play";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
const connectionId = process.env.CONNECTION ?? "";
const { revisionIds } = await lockedNow(rt, connectionId);
process.send?.("ready");
await new Promise((resolve) => process.once("message", resolve));
const moved = await cutOver(rt, "killed", "luvwinkel-de", [{ connectionId, revisionIds }]);
process.send?.(moved.ok ? "moved" : moved.says);

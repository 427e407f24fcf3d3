// Moves the lever once, as a process that a test can kill in the middle.
import { cutOver } from "#server/cutover/cutover";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { lockedNow, luvwinkel, whereIs } from "../../demo/play";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
const where = await whereIs(rt, process.env.CONNECTION ?? "");
const storefront = await luvwinkel(rt);
const { revisionIds } = await lockedNow(rt, where.connection.id);
process.send?.("ready");
await new Promise((resolve) => process.once("message", resolve));
const moved = await cutOver(rt, "killed", where, storefront, revisionIds);
process.send?.(moved.ok ? "moved" : moved.says);

import { redirect } from "react-router";
import type { Said } from "#core/said";
import { say } from "../words/spoken.server";
import { DONE_COOKIE } from "./done";

/** Leads on to another page after something was done, which is said there: the place where it was pressed is gone. */
export function leadOn(to: string, done: Said): Response {
  const cookie = `${DONE_COOKIE}=${encodeURIComponent(say(done))}; Path=/; Max-Age=60; SameSite=Lax`;
  return redirect(to, { headers: { "set-cookie": cookie } });
}

import { redirect } from "react-router";
import { signOut } from "#server/people/sign-in";
import { runtimeContext } from "../context";
import { sessionCookie, sessionToken } from "./session";
import type { Route } from "./+types/sign-out";

export const loader = () => redirect("/");

export async function action({ request, context }: Route.ActionArgs) {
  const rt = context.get(runtimeContext);
  const token = sessionToken(request);
  if (token) await signOut(rt, token);
  return redirect("/sign-in", { headers: { "set-cookie": sessionCookie(rt, "", 0) } });
}

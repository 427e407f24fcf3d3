import { data, redirect } from "react-router";
import type { Person } from "#server/people/people";
import { personOf } from "#server/people/sign-in";
import type { Runtime } from "#server/runtime";
import { type Context, personContext, runtimeContext } from "../context";
import { t } from "../words/pages/people-answers";

const NAME = "zahlung_session";

export const sessionToken = (request: Request): string | null =>
  new RegExp(`(?:^|; )${NAME}=([\\w-]{43})`).exec(request.headers.get("cookie") ?? "")?.[1] ?? null;

/** The cookie that carries a session; an expired one when `token` is empty. */
export function sessionCookie(rt: Runtime, token: string, expiresAt: number): string {
  const secure = rt.settings.origin.startsWith("https:") ? "; Secure" : "";
  return `${NAME}=${token}; Path=/; HttpOnly; SameSite=Lax; Expires=${new Date(expiresAt).toUTCString()}${secure}`;
}

/** The signed-in person, or a redirect to the sign-in page that leads back here. */
export async function mustBeSignedIn(rt: Runtime, request: Request): Promise<Person> {
  const token = sessionToken(request);
  const person = token && (await personOf(rt, token));
  if (person) return person;
  const url = new URL(request.url);
  const path = url.pathname.replace(/\.data$/, "").replace(/^\/_root$/, "/");
  const back = request.method === "GET" && path !== "/" ? `?to=${encodeURIComponent(path + url.search)}` : "";
  throw redirect(`/sign-in${back}`);
}

/** For actions on people: the person, who must be an owner. */
export function mustOwn(context: Context): { rt: Runtime; person: Person } {
  const person = context.get(personContext);
  if (person.role !== "owner") throw data(t("only-an-owner-may-do"), { status: 403 });
  return { rt: context.get(runtimeContext), person };
}

/** For actions: the person, who must be allowed to change things. */
export function mustOperate(context: Context): { rt: Runtime; person: Person } {
  const person = context.get(personContext);
  if (person.role === "viewer") throw data(t("you-may-look-but-not"), { status: 403 });
  return { rt: context.get(runtimeContext), person };
}

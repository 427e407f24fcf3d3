import { speaking } from "../../scripts/english";
import { ToldError } from "#core/said";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Runtime } from "../runtime";
import { openTestRuntime, type TestRuntime } from "../test-runtime";
import { passwordProblem as passwordProblemSaid } from "./passwords";
import { acceptInvitation, firstOwnerLink, invite, invitedRole } from "./invitations";
import {
  addPerson,
  allPeople,
  changePassword,
  personProblems as personProblemsSaid,
  removePerson as removePersonSaid,
} from "./people";
import { personOf, signIn as signInSaid, signOut, waitAfter } from "./sign-in";

const passwordProblem = speaking(passwordProblemSaid);

const signIn = speaking(signInSaid);
const personProblems = speaking(personProblemsSaid);
const removePerson = speaking(removePersonSaid);

let rt: Runtime;
let clock: TestRuntime["clock"];
let close: () => void;
beforeEach(async () => {
  ({ rt, clock, close } = await openTestRuntime());
});
afterEach(() => close());

const ida = { email: "Ida@Example.org ", name: "Ida", password: "ten kites in the wind" };
const add = () => addPerson(rt, { ...ida, role: "owner" });
const HOUR = 3_600_000;

describe("signing in", () => {
  it("takes the right password, and forgets the session at sign-out", async () => {
    await add();
    const result = await signIn(rt, "ida@example.org", ida.password, "1.2.3.4");
    if (!result.ok) throw new ToldError(result.says);
    expect(await personOf(rt, result.token)).toMatchObject({ name: "Ida", role: "owner" });
    await signOut(rt, result.token);
    expect(await personOf(rt, result.token)).toBeNull();
    expect(await personOf(rt, "made up")).toBeNull();
  });

  it("says the same of a wrong password and of an unknown address", async () => {
    await add();
    const wrong = await signIn(rt, "ida@example.org", "wrong", "1.1.1.1");
    expect(await signIn(rt, "nobody@example.org", "wrong", "2.2.2.2")).toEqual(wrong);
    expect(wrong).toEqual({ ok: false, says: "This e-mail address and password do not belong together." });
  });

  it("slows down after five wrong tries, even for the right password, and forgives later", async () => {
    await add();
    for (let n = 0; n < 5; n++) await signIn(rt, "ida@example.org", "wrong", "1.1.1.1");
    expect(await signIn(rt, "ida@example.org", ida.password, "9.9.9.9")).toMatchObject({
      ok: false,
      retryAfter: 5,
    });
    clock.now += 6_000;
    expect(await signIn(rt, "ida@example.org", ida.password, "9.9.9.9")).toMatchObject({ ok: true });
    expect(waitAfter(4)).toBe(0);
    expect(waitAfter(6)).toBe(10_000);
    expect(waitAfter(60)).toBe(900_000);
  });

  it("ends idle and old sessions", async () => {
    await add();
    const result = await signIn(rt, "ida@example.org", ida.password, "x");
    if (!result.ok) throw new ToldError(result.says);
    for (let n = 0; n < 13; n++) {
      clock.now += 11 * HOUR;
      expect(await personOf(rt, result.token), `after ${n} nights`).not.toBeNull();
    }
    clock.now += 13 * HOUR;
    expect(await personOf(rt, result.token)).toBeNull();
  });
});

describe("the first owner", () => {
  it("is made by a link that works once and for a day", async () => {
    const token = (await firstOwnerLink(rt))?.split("/").at(-1) ?? "";
    clock.now += 25 * HOUR;
    expect(await acceptInvitation(rt, token, ida)).toBe("over");
    const again = (await firstOwnerLink(rt))?.split("/").at(-1) ?? "";
    const presses = ["a", "b", "c"].map((one) =>
      acceptInvitation(rt, again, { ...ida, email: `${one}@example.org` }),
    );
    expect((await Promise.all(presses)).sort()).toEqual(["made", "over", "over"]);
    expect(await allPeople(rt)).toHaveLength(1);
    expect(await firstOwnerLink(rt)).toBeNull();
  });

  it("needs a name, an address and a password that holds", () => {
    expect(Object.keys(personProblems({ email: "x", name: " ", password: "short" }))).toEqual([
      "email",
      "name",
      "password",
    ]);
    expect(personProblems(ida)).toEqual({});
    expect(passwordProblem("aaaaaaaaaaaaaaa")).toMatch(/different/);
  });
});

describe("people", () => {
  const tokenOf = (address: string) => address.split("/").at(-1) ?? "";
  const enno = { email: "enno@example.org", name: "Enno", password: "sewing sails by night" };

  it("are invited with a role, by an address that says so until it is used", async () => {
    await add();
    const token = tokenOf(await invite(rt, "ida@example.org", "viewer"));
    expect(await invitedRole(rt, token)).toBe("viewer");
    expect(await acceptInvitation(rt, token, { ...enno, email: "IDA@example.org" })).toBe("address-taken");
    clock.now += 1_000;
    expect(await acceptInvitation(rt, token, enno)).toBe("made");
    expect(await invitedRole(rt, token)).toBeNull();
    expect((await allPeople(rt)).map((one) => `${one.name} ${one.role}`)).toEqual([
      "Ida owner",
      "Enno viewer",
    ]);
  });

  it("are signed out when they are taken out; the last owner stays", async () => {
    const owner = await add();
    const other = await addPerson(rt, { ...enno, role: "operator" });
    const session = await signIn(rt, enno.email, enno.password, "x");
    if (!session.ok) throw new ToldError(session.says);
    expect(await removePerson(rt, "ida@example.org", other)).toBeNull();
    expect(await personOf(rt, session.token)).toBeNull();
    expect(await signIn(rt, enno.email, enno.password, "x")).toMatchObject({ ok: false });
    expect(await removePerson(rt, "ida@example.org", owner)).toMatch(/last owner/);
    expect(await removePerson(rt, "ida@example.org", "per_nobody")).toMatch(/no such/);
    expect(await allPeople(rt)).toHaveLength(1);
  });

  it("change their password with the old one, which ends their other sessions", async () => {
    await add();
    const [here, there] = [
      await signIn(rt, ida.email, ida.password, "x"),
      await signIn(rt, ida.email, ida.password, "y"),
    ];
    if (!here.ok || !there.ok) throw new Error("not signed in");
    const person = await personOf(rt, here.token);
    if (!person) throw new Error("nobody");
    const next = "twelve winds and a reel";
    const change = (old: string, to: string) =>
      changePassword(rt, person, { old, next: to, session: here.token });
    expect(await change("wrong", next)).toMatchObject({ field: "old" });
    expect(await change(ida.password, "short")).toMatchObject({ field: "next" });
    expect(await change(ida.password, next)).toBeNull();
    expect(await personOf(rt, here.token)).not.toBeNull();
    expect(await personOf(rt, there.token)).toBeNull();
    expect(await signIn(rt, ida.email, next, "z")).toMatchObject({ ok: true });
  });
});

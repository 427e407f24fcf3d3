import { modes, type Mode } from "../mode";
import { fits } from "../profiles/patterns";
import type { ProfileFile } from "../profiles/profile";

/** Something that is to be known about a domain file. `blocking`: the provider would refuse it. */
export interface FileFinding {
  code:
    | "ending-added"
    | "other-name"
    | "other-mode"
    | "not-the-file"
    | "empty"
    | "too-long"
    | "not-https"
    | "unreachable"
    | "redirected"
    | "not-served"
    | "served-as-html"
    | "other-content"
    | "byte-order-mark";
  blocking: boolean;
  says: string;
}

const LONGEST = 20_000;
const modeName: Record<Mode, string> = { test: "sandbox", live: "live side" };
const lastPart = (path: string) => path.split("/").at(-1) ?? path;

/**
 * Looks at a domain file as it was downloaded: its name (browsers and editors add endings), and whether its text is
 * the right mode's. `name` is the file's name, without folders.
 */
export function checkDownload(file: ProfileFile, mode: Mode, name: string, text: string): FileFinding[] {
  const findings: FileFinding[] = [];
  const wanted = lastPart(file.path[mode]);
  const say = (code: FileFinding["code"], blocking: boolean, says: string) =>
    findings.push({ code, blocking, says });
  const bare = text.replace(/^\ufeff/, "").trim();
  if (bare === "") return [{ code: "empty", blocking: true, says: "The file is empty." }];
  if (text.length > LONGEST)
    return [{ code: "too-long", blocking: true, says: `The file is longer than ${LONGEST} letters.` }];
  const other = modes.find((one) => one !== mode && fits(file.pattern[one], bare));
  if (!fits(file.pattern[mode], bare)) {
    if (other)
      say(
        "other-mode",
        true,
        `This is the ${file.name} of the ${modeName[other]}; here belongs the one of the ${modeName[mode]}.`,
      );
    else say("not-the-file", true, `This is not the ${file.name}: its text does not look like one.`);
  }
  if (text !== text.replace(/^\ufeff/, ""))
    say("byte-order-mark", false, "An editor put an invisible mark before its text; it is taken off here.");
  if (name !== "" && name !== wanted) {
    const added =
      name.startsWith(wanted) &&
      /^([ _]?\(\d+\))?\.[A-Za-z0-9]{1,5}$|^[ _]?\(\d+\)$/.test(name.slice(wanted.length));
    if (added)
      say(
        "ending-added",
        false,
        `Downloading turned its name into “${name}”. On the shop it must be called “${wanted}”, without an ending.`,
      );
    else if (modes.some((one) => one !== mode && name.startsWith(lastPart(file.path[one]))))
      say(
        "other-mode",
        true,
        `Its name is that of the ${modeName[mode === "test" ? "live" : "test"]}’s file.`,
      );
    else say("other-name", false, `On the shop it must be called “${wanted}”, not “${name}”.`);
  }
  return findings;
}

/** What the shop's server answered when it was asked for the file. */
export type Served =
  | { ok: false; says: string }
  | { ok: true; status: number; type: string; location: string | null; text: string };

/** Holds what the shop serves at the file's address against the file that was brought. */
export function checkServed(
  file: ProfileFile,
  mode: Mode,
  address: string,
  brought: string | null,
  served: Served,
): FileFinding[] {
  const no = (code: FileFinding["code"], says: string): FileFinding[] => [{ code, blocking: true, says }];
  if (!served.ok) return no("unreachable", `The shop could not be asked for ${address}: ${served.says}`);
  const { status, type, location, text } = served;
  if (status >= 300 && status < 400)
    return no(
      "redirected",
      `${address} leads on to ${location ?? "somewhere else"} (status ${status}). It has to be served there itself.`,
    );
  if (status === 401 || status === 403)
    return no(
      "not-served",
      `The shop asks who is asking (status ${status}); the file has to be open to everybody.`,
    );
  if (status !== 200) return no("not-served", `The shop has nothing at ${address} (status ${status}).`);
  const bare = text.replace(/^\ufeff/, "").trim();
  if (/^\s*<(!doctype|html)/i.test(bare) || (/html/i.test(type) && !fits(file.pattern[mode], bare)))
    return no("served-as-html", `The shop answers with a page (HTML) at ${address}, not with the file.`);
  const other = modes.find((one) => one !== mode && fits(file.pattern[one], bare));
  if (!fits(file.pattern[mode], bare))
    return other
      ? no("other-mode", `The shop serves the ${modeName[other]}’s file there.`)
      : no("other-content", `What the shop serves at ${address} is not the ${file.name}.`);
  if (brought !== null && bare !== brought.replace(/^\ufeff/, "").trim())
    return no(
      "other-content",
      "The shop serves another file than the one that was brought here. Is it an older one?",
    );
  return /html/i.test(type)
    ? [
        {
          code: "served-as-html",
          blocking: false,
          says: `The text is right, but it is served as ${type}; text/plain is safer.`,
        },
      ]
    : [];
}

import { type Said, said, type Told } from "../said";
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
  says: Said;
}

const LONGEST = 20_000;
const lastPart = (path: string) => path.split("/").at(-1) ?? path;

/**
 * Looks at a domain file as it was downloaded: its name (browsers and editors add endings), and whether its text is
 * the right mode's. `name` is the file's name, without folders.
 */
export function checkDownload(file: ProfileFile, mode: Mode, name: string, text: string): FileFinding[] {
  const findings: FileFinding[] = [];
  const wanted = lastPart(file.path[mode]);
  const say = (code: FileFinding["code"], blocking: boolean, says: Said) =>
    findings.push({ code, blocking, says });
  const bare = text.replace(/^\ufeff/, "").trim();
  if (bare === "") return [{ code: "empty", blocking: true, says: said("domain-file.file-empty") }];
  if (text.length > LONGEST)
    return [{ code: "too-long", blocking: true, says: said("domain-file.too-long", { most: LONGEST }) }];
  const other = modes.find((one) => one !== mode && fits(file.pattern[one], bare));
  if (!fits(file.pattern[mode], bare)) {
    if (other)
      say("other-mode", true, said("domain-file.other-side", { file: file.name, there: other, here: mode }));
    else say("not-the-file", true, said("domain-file.not-text-does-not", { name: file.name }));
  }
  if (text !== text.replace(/^\ufeff/, ""))
    say("byte-order-mark", false, said("domain-file.editor-put-invisible-mark"));
  if (name !== "" && name !== wanted) {
    const added =
      name.startsWith(wanted) &&
      /^([ _]?\(\d+\))?\.[A-Za-z0-9]{1,5}$|^[ _]?\(\d+\)$/.test(name.slice(wanted.length));
    if (added) say("ending-added", false, said("domain-file.downloading-turned-name-into", { name, wanted }));
    else if (modes.some((one) => one !== mode && name.startsWith(lastPart(file.path[one]))))
      say(
        "other-mode",
        true,
        said("domain-file.name-of-other-side", { there: mode === "test" ? "live" : "test" }),
      );
    else say("other-name", false, said("domain-file.shop-must-called-not", { wanted, name }));
  }
  return findings;
}

/** What the shop's server answered when it was asked for the file. */
export type Served =
  | { ok: false; says: Told }
  | { ok: true; status: number; type: string; location: string | null; text: string };

/** Holds what the shop serves at the file's address against the file that was brought. */
export function checkServed(
  file: ProfileFile,
  mode: Mode,
  address: string,
  brought: string | null,
  served: Served,
): FileFinding[] {
  const no = (code: FileFinding["code"], says: Said): FileFinding[] => [{ code, blocking: true, says }];
  if (!served.ok)
    return no("unreachable", said("domain-file.shop-could-not-asked", { address, says: served.says }));
  const { status, type, location, text } = served;
  if (status >= 300 && status < 400)
    return no(
      "redirected",
      said("domain-file.leads-status-served-itself", {
        address,
        known: location ? "yes" : "no",
        location: location ?? "",
        status,
      }),
    );
  if (status === 401 || status === 403)
    return no("not-served", said("domain-file.shop-asks-who-asking", { status }));
  if (status !== 200) return no("not-served", said("domain-file.shop-nothing-status", { address, status }));
  const bare = text.replace(/^\ufeff/, "").trim();
  if (/^\s*<(!doctype|html)/i.test(bare) || (/html/i.test(type) && !fits(file.pattern[mode], bare)))
    return no("served-as-html", said("domain-file.shop-answers-page-html", { address }));
  const other = modes.find((one) => one !== mode && fits(file.pattern[one], bare));
  if (!fits(file.pattern[mode], bare))
    return other
      ? no("other-mode", said("domain-file.serves-other-side", { there: other }))
      : no("other-content", said("domain-file.what-shop-serves-not", { address, name: file.name }));
  if (brought !== null && bare !== brought.replace(/^\ufeff/, "").trim())
    return no("other-content", said("domain-file.shop-serves-another-file"));
  return /html/i.test(type)
    ? [
        {
          code: "served-as-html",
          blocking: false,
          says: said("domain-file.text-right-but-served", { type }),
        },
      ]
    : [];
}

import { colourOf } from "#core/looks/colours";
import { agreements, corners, faces, lights, type Look } from "#core/looks/look";
import { nameOfCode } from "#core/places/names";
import { t } from "../words/pages/looks";

/** What is typed into the boxes of a look, by the name of each. */
export type Texts = Record<string, string>;

/** What stands in the boxes of a look. */
export const textsOf = (look: Look): Texts => ({
  ...{ accent: look.accent, ground: look.ground, corner: look.corner, face: look.face, light: look.light },
  terms: look.terms.how,
  receipts: look.receipts ? "yes" : "",
  remembers: look.remembers ? "yes" : "",
  mostShown: look.mostShown > 0 ? String(look.mostShown) : "",
  mostButtons: look.mostButtons ? String(look.mostButtons) : "",
  ...look.support,
  ...Object.fromEntries(Object.entries(look.terms.links).map(([lang, link]) => [`terms-${lang}`, link])),
  ...Object.fromEntries(Object.entries(look.privacy).map(([lang, link]) => [`privacy-${lang}`, link])),
});

/** The look that stands in the boxes, as far as it can be shown already. */
export function drafted(texts: Texts, saved: Look, languages: readonly string[]): Look {
  const links = (name: string) =>
    Object.fromEntries(
      languages.flatMap((one) => (texts[`${name}-${one}`] ? [[one, texts[`${name}-${one}`] ?? ""]] : [])),
    );
  const chosen = <T extends string>(all: readonly T[], name: string, usual: T): T =>
    all.find((one) => one === texts[name]) ?? usual;
  const count = (name: string) => (/^\d{1,2}$/.test(texts[name] ?? "") ? Number(texts[name]) : 0);
  const { mostButtons: _most, remembers: _remembers, ...rest } = saved;
  return {
    ...rest,
    ...(count("mostButtons") > 0 && { mostButtons: count("mostButtons") }),
    ...(texts.remembers === "yes" && { remembers: true }),
    accent: colourOf(texts.accent ?? "") ?? "",
    ground: colourOf(texts.ground ?? "") ?? "",
    corner: chosen(corners, "corner", "square"),
    face: chosen(faces, "face", "plain"),
    light: chosen(lights, "light", "device"),
    terms: { how: chosen(agreements, "terms", "none"), links: links("terms") },
    privacy: links("privacy"),
    support: { email: texts.email ?? "", phone: texts.phone ?? "", page: texts.page ?? "" },
    receipts: texts.receipts === "yes",
    mostShown: count("mostShown"),
  };
}

/** Whether the same stands in all boxes. */
export const isSame = (one: Texts, other: Texts) =>
  [...new Set([...Object.keys(one), ...Object.keys(other)])].every(
    (name) => (one[name] ?? "") === (other[name] ?? ""),
  );

/** Says that shoppers of a language are led to a text in another. */
export function missing(texts: Texts, name: string, language: string, languages: readonly string[]) {
  const other = languages.find((one) => texts[`${name}-${one}`]);
  return !texts[`${name}-${language}`] && other
    ? t("missing-these-shoppers-are-led", { other: nameOfCode("language", other) })
    : undefined;
}

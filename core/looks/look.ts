import { contrastOf, colourOf, mixed, READ, readableAgainst } from "./colours";
import { type Problem, problem, type Reading, type SaidValues } from "../said";

export const corners = ["square", "soft", "round"] as const;
export const faces = ["plain", "serif", "device"] as const;
/** Which light a shopper's pages stand in: the device's own, or always the one. */
export const lights = ["device", "light", "dark"] as const;
export const agreements = ["none", "told", "required"] as const;

export type Corner = (typeof corners)[number];
export type Face = (typeof faces)[number];
export type Light = (typeof lights)[number];
/** Whether a shopper is told of the terms, has to agree to them, or meets none. */
export type Agreement = (typeof agreements)[number];

/** A picture that was taken in, by the hash under which it is kept; its size in pixels. */
export interface PictureRef {
  id: string;
  width: number;
  height: number;
}

/** Addresses of a text in several languages. */
export type Links = Readonly<Record<string, string>>;

/** How a shop's pages for its shoppers look, and what stands on each of them. Empty colours: ours. */
export interface Look {
  accent: string;
  ground: string;
  corner: Corner;
  face: Face;
  light: Light;
  logo: PictureRef | null;
  terms: { how: Agreement; links: Links };
  privacy: Links;
  support: { email: string; phone: string; page: string };
  /** How many ways of paying are shown before the others are asked for; zero: all. */
  mostShown: number;
  /** How many buttons that pay stand beside each other on the shop's own pages; not said: all. */
  mostButtons?: number;
  /** Whether a shopper finds again chosen what the same e-mail address was paid with last; not said: no. */
  remembers?: boolean;
  /** Whether shoppers who left an address get receipts by e-mail. */
  receipts: boolean;
}

export const usualLook: Look = {
  ...{ accent: "", ground: "", corner: "square", face: "plain", light: "device", logo: null },
  terms: { how: "none", links: {} },
  privacy: {},
  support: { email: "", phone: "", page: "" },
  mostShown: 0,
  receipts: false,
};

/** The colours that stand fast on shoppers' pages, by the light they stand in. */
export const standing = {
  light: { paper: "#f4f1ea", sheet: "#fffdf8", ink: "#1c2530", soft: "#4d5763", accent: "#0e5a63" },
  dark: { paper: "#14191f", sheet: "#1b222a", ink: "#ece7db", soft: "#b3b0a6", accent: "#6cc3cc" },
} as const;

/** What a look makes of the colours in one light. */
export interface Tones {
  paper: string;
  accent: string;
  /** Behind what is chosen. */
  accentSoft: string;
  /** Written on the accent. */
  onAccent: string;
}

type Lit = keyof typeof standing;

/** In which light a ground of the shop's own is used. The other light keeps ours. */
const groundLight = ({ light }: Pick<Look, "light">): Lit => (light === "dark" ? "dark" : "light");

const paperIn = (look: Look, lit: Lit): string =>
  look.ground && groundLight(look) === lit ? look.ground : standing[lit].paper;

function tonesIn(look: Look, lit: Lit): Tones {
  const { sheet, ink } = standing[lit];
  const paper = paperIn(look, lit);
  const wanted = look.accent || standing[lit].accent;
  const accent = readableAgainst(wanted, [sheet, paper]) ?? standing[lit].accent;
  const accentSoft = mixed(accent, sheet, 0.14);
  const onAccent = contrastOf("#ffffff", accent) >= contrastOf("#14191f", accent) ? "#ffffff" : "#14191f";
  // Behind a chosen way of paying its name is read: where the mixture is too dark for it, the sheet itself stands there.
  return { paper, accent, accentSoft: contrastOf(ink, accentSoft) >= 7 ? accentSoft : sheet, onAccent };
}

const known = new WeakMap<Look, Record<Lit, Tones>>();

/** The colours of a look in both lights; each of its accents can be read there, lighter or darker where it must be. */
export function tonesOf(look: Look): Record<Lit, Tones> {
  const tones = known.get(look) ?? { light: tonesIn(look, "light"), dark: tonesIn(look, "dark") };
  known.set(look, tones);
  return tones;
}

/** What a colour comes to where it is read, and the nearest that would do; null where it does. */
export interface Unreadable {
  /** Its least contrast. */
  contrast: number;
  /** The nearest colour that can be read; null where there is none. */
  instead: string | null;
}

const heldAgainst = (colour: string, against: readonly string[]): Unreadable | null => {
  const contrast = Math.min(...against.map((other) => contrastOf(colour, other)));
  return contrast >= READ ? null : { contrast, instead: readableAgainst(colour, against) };
};

/** Whether the accent can be read on the sheet and on the ground, in the light for which it was chosen. */
export function accentTrouble(look: Look): Unreadable | null {
  const lit = groundLight(look);
  return look.accent ? heldAgainst(look.accent, [standing[lit].sheet, paperIn(look, lit)]) : null;
}

/** Whether text can be read on the ground, in its light. */
export function groundTrouble(look: Look): Unreadable | null {
  const lit = groundLight(look);
  return look.ground ? heldAgainst(look.ground, [standing[lit].ink, standing[lit].soft]) : null;
}

/** A look as its form gives it: everything is text; links by language under `terms-de`, `privacy-de`. */
export type LookEntry = Readonly<Record<string, string | undefined>>;

const oneOf = <T extends string>(all: readonly T[], text: string | undefined): T | undefined =>
  all.find((one) => one === text);

/** An address that a shopper's browser may go to; null for anything else. */
export function linkOf(text: string): string | null {
  if (text.length > 400 || !URL.canParse(text)) return null;
  const { protocol, username, href } = new URL(text);
  return /^https?:$/.test(protocol) && username === "" ? href : null;
}

/**
 * Reads a look, or says by field what is wrong. `languages` are those of the storefront; `logo` is the picture it has.
 */
export function readLook(
  entry: LookEntry,
  { languages, logo }: { languages: readonly string[]; logo: PictureRef | null },
): Reading<Look> {
  const problems: Problem[] = [];
  const refuse = (path: string, code: string, values: SaidValues = {}) =>
    problems.push(problem(path, code, values));
  const text = (name: string) => (entry[name] ?? "").trim();

  const colour = (name: string) => {
    if (text(name) === "") return "";
    const read = colourOf(text(name));
    if (read === null) refuse(name, "look.no-colour");
    return read ?? "";
  };
  const links = (name: string): Links => {
    const read: Record<string, string> = {};
    for (const language of languages) {
      const typed = text(`${name}-${language}`);
      const link = linkOf(typed);
      if (typed !== "" && link === null) refuse(`${name}-${language}`, "look.no-link");
      if (link !== null) read[language] = link;
    }
    return read;
  };
  const chosen = <T extends string>(name: string, all: readonly T[], usual: T): T => {
    const read = oneOf(all, text(name));
    if (!read) refuse(name, "look.choose-one");
    return read ?? usual;
  };

  const look: Look = {
    accent: colour("accent"),
    ground: colour("ground"),
    corner: chosen("corner", corners, "square"),
    face: chosen("face", faces, "plain"),
    light: chosen("light", lights, "device"),
    logo,
    terms: { how: chosen("terms", agreements, "none"), links: links("terms") },
    privacy: links("privacy"),
    support: { email: text("email"), phone: text("phone"), page: text("page") },
    mostShown: /^\d{1,2}$/.test(text("mostShown")) ? Number(text("mostShown")) : 0,
    receipts: text("receipts") === "yes",
    ...(/^[1-9]\d?$/.test(text("mostButtons")) && { mostButtons: Number(text("mostButtons")) }),
    ...(text("remembers") === "yes" && { remembers: true }),
  };
  for (const name of ["mostShown", "mostButtons"])
    if (!/^\d{0,2}$/.test(text(name))) refuse(name, "look.no-count");
  for (const [field, trouble] of [
    ["accent", accentTrouble(look)],
    ["ground", groundTrouble(look)],
  ] as const) {
    if (!trouble) continue;
    const values = { contrast: trouble.contrast, needed: READ };
    if (trouble.instead) refuse(field, "look.hard-to-read", { ...values, instead: trouble.instead });
    else refuse(field, "look.cannot-be-read", values);
  }
  if (look.terms.how !== "none" && Object.keys(look.terms.links).length === 0)
    refuse(`terms-${languages[0] ?? "en"}`, "look.terms-need-a-link");
  const { email, phone, page } = look.support;
  if (email && !/^[^\s@<>"]{1,100}@[^\s@<>"]+\.[^\s@<>".]{2,}$/.test(email)) refuse("email", "look.no-email");
  if (phone && !/^\+?[0-9][0-9 ()/.-]{3,30}$/.test(phone)) refuse("phone", "look.no-phone");
  if (page && linkOf(page) === null) refuse("page", "look.no-link");
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value: look };
}

/** What a shopper who reads `language` is led to: its own text, or else that of the first language that has one. */
export const linkIn = (links: Links, language: string): string | null =>
  links[language] ?? links[language.split("-")[0] ?? ""] ?? Object.values(links)[0] ?? null;

/** What a shopper's page needs of a look, in the shopper's language. */
export interface LookView {
  tones: Record<Lit, Tones>;
  corner: Corner;
  face: Face;
  light: Light;
  logo: PictureRef | null;
  mostShown: number;
  terms: { required: boolean; link: string } | null;
  privacy: string | null;
  support: Look["support"] | null;
}

export function lookIn(look: Look, language: string): LookView {
  const link = look.terms.how === "none" ? null : linkIn(look.terms.links, language);
  const { corner, face, light, logo, support, mostShown } = look;
  return {
    ...{ tones: tonesOf(look), corner, face, light, logo, mostShown },
    terms: link === null ? null : { required: look.terms.how === "required", link },
    privacy: linkIn(look.privacy, language),
    support: Object.values(support).some(Boolean) ? support : null,
  };
}

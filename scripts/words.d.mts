/** A code that a source file names, with the names of its values where they can be told; or a family of codes. */
export type Code = { code: string; values: string[] | null } | { family: RegExp };
export function sentencesOf(folder: string): Map<string, string>;
export function codesIn(name: string, text: string): Code[];
export function complaintsAbout(codes: readonly Code[], sentences: ReadonlyMap<string, string>): string[];
export function complaints(): string[];
export function checkoutComplaints(catalogues: Readonly<Record<string, object>>, source: string): string[];
export function pageKeysIn(name: string, text: string): { code: string; values: string[] | null }[];
export function bareWordsIn(name: string, text: string): string[];

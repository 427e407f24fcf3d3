import { type Look, type PictureRef, usualLook } from "#core/looks/look";
import { textsOf } from "./draft";

/** One setting in which two looks differ, with what stands in its box, or the picture, of each. */
export type LookChange =
  | { field: string; from: string; to: string }
  | { field: "logo"; from: PictureRef | null; to: PictureRef | null };

/** What differs between two looks, by setting. A look that was kept before a setting existed has the usual one. */
export function lookChanges(one: Look, other: Look): LookChange[] {
  const [from, to] = [one, other].map((look) => ({ ...usualLook, ...look })) as [Look, Look];
  const [was, is] = [textsOf(from), textsOf(to)];
  const texts = [...new Set([...Object.keys(was), ...Object.keys(is)])].flatMap((field) => {
    const change = { field, from: was[field] ?? "", to: is[field] ?? "" };
    return change.from === change.to ? [] : [change];
  });
  return from.logo?.id === to.logo?.id ? texts : [{ field: "logo", from: from.logo, to: to.logo }, ...texts];
}

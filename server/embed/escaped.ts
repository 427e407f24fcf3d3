const escapes: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };

/** A text as markup holds it, in an element or between double quotation marks. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (letter) => escapes[letter] ?? letter);

/**
 * Puts a value into a box of the browser's own and lets everybody know, as if a person had: what stands over the box
 * is the better thing to press, but the box is what a form sends, what it listens to, and all there is while the page
 * is not awake.
 */
export function carry(own: HTMLInputElement | HTMLSelectElement | null, value: string): void {
  if (!own) return;
  const kind = own instanceof HTMLSelectElement ? HTMLSelectElement : HTMLInputElement;
  // Written past React, which would take it for what it already knows.
  Object.getOwnPropertyDescriptor(kind.prototype, "value")?.set?.call(own, value);
  own.dispatchEvent(new Event(own instanceof HTMLSelectElement ? "change" : "input", { bubbles: true }));
}

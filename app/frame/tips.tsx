import { Suspense, useEffect, useState } from "react";
import { ifItComes } from "../parts/if-it-comes";

const Tip = ifItComes(() => import("./tip"));

/** How long a pointer rests before it is told something. */
const REST = 500;

interface Told {
  at: HTMLElement;
  says: string;
}

/**
 * Shows what elements have as their title: after a rest of the pointer, at once where the keyboard leads there, and by
 * a touch where nothing is to be pressed. The browser would show it to a mouse alone, and does so while the page is not
 * awake. Escape puts it away.
 */
export default function Tips() {
  const [told, setTold] = useState<Told | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let shown: Told | null = null;
    const hide = () => {
      clearTimeout(timer);
      // Its title is its own again, if it was given no other meanwhile.
      if (shown && !shown.at.title) shown.at.title = shown.says;
      shown = null;
      setTold(null);
    };
    const offer = (target: EventTarget | null, rest: number) => {
      if (!(target instanceof Element)) return;
      if (shown?.at.contains(target) || target.closest("[role=tooltip]")) return;
      hide();
      const at = target.closest<HTMLElement>("[title]:not([title=''])");
      if (!at) return;
      timer = setTimeout(() => {
        shown = { at, says: at.title };
        // The browser's own would stand there too.
        at.title = "";
        setTold(shown);
      }, rest);
    };
    const onOver = ({ target, pointerType }: PointerEvent) => pointerType === "mouse" && offer(target, REST);
    const onDown = ({ target, pointerType }: PointerEvent) => {
      hide();
      const pressed =
        target instanceof Element && target.closest("a, button, input, select, textarea, label");
      if (pointerType === "touch" && !pressed) offer(target, 0);
    };
    const onFocus = ({ target }: FocusEvent) =>
      target instanceof Element && target.matches(":focus-visible") && offer(target, 0);
    const onKey = ({ key }: KeyboardEvent) => key === "Escape" && hide();
    const every = [
      ["pointerover", onOver],
      ["pointerdown", onDown],
      ["focusin", onFocus],
      ["focusout", hide],
      ["keydown", onKey],
      ["scroll", hide],
    ] as [string, EventListener][];
    for (const [name, listener] of every) document.addEventListener(name, listener, { capture: true });
    document.documentElement.addEventListener("pointerleave", hide);
    return () => {
      hide();
      for (const [name, listener] of every) document.removeEventListener(name, listener, { capture: true });
      document.documentElement.removeEventListener("pointerleave", hide);
    };
  }, []);
  return told ? (
    <Suspense>
      <Tip {...told} />
    </Suspense>
  ) : null;
}

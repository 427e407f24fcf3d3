import { useCallback, useEffect, useState } from "react";
import { useBlocker } from "react-router";
import type { Draft } from "./draft";

/**
 * A draft that survives a reload: every edit is kept in this browser until it is saved, and leaving the page with
 * unsaved work asks first. `key` names the offer and the revision that the draft is based on.
 */
export function useDraft(key: string, saved: Draft) {
  const [draft, setDraft] = useState(saved);
  const [dirty, setDirty] = useState(false);
  const [restored, setRestored] = useState(false);
  useEffect(() => {
    const kept = readKept(key);
    setDraft(kept ?? saved);
    setDirty(kept !== null);
    setRestored(kept !== null);
    // A new key is a new revision; `saved` belongs to it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  const edit = useCallback(
    (change: Partial<Draft>) =>
      setDraft((before) => {
        const next = { ...before, ...change };
        localStorage.setItem(key, JSON.stringify(next));
        setDirty(true);
        return next;
      }),
    [key],
  );
  const forget = useCallback(() => {
    localStorage.removeItem(key);
    setDirty(false);
    setRestored(false);
  }, [key]);
  const discard = useCallback(() => {
    forget();
    setDraft(saved);
  }, [forget, saved]);
  useEffect(() => {
    if (!dirty) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [dirty]);
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => dirty && currentLocation.pathname !== nextLocation.pathname,
  );
  return { draft, dirty, restored, edit, forget, discard, blocker };
}

function readKept(key: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

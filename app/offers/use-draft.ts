import { useCallback, useEffect, useState } from "react";
import { useBlocker } from "react-router";
import type { Draft } from "./draft";

/**
 * A draft that survives a reload: every edit is kept in this browser until it is saved, and leaving the page with
 * unsaved work asks first. It goes on from the revision that it began with: what somebody else saves meanwhile takes
 * nothing away, and is taken up once there is nothing unsaved. `basedOn` is that revision.
 */
export function useDraft(name: string, revision: number, saved: Draft) {
  const [basis, setBasis] = useState<{ name: string; revision: number } | null>(null);
  const [draft, setDraft] = useState(saved);
  const [dirty, setDirty] = useState(false);
  const [restored, setRestored] = useState(false);
  const basedOn = basis?.name === name ? basis.revision : revision;
  const key = `${name}:${basedOn}`;
  useEffect(() => {
    if (basis?.name === name && (dirty || basis.revision === revision)) return;
    const kept = readKept(`${name}:${revision}`);
    setBasis({ name, revision });
    setDraft(kept ?? saved);
    setDirty(kept !== null);
    setRestored(kept !== null);
    // `saved` belongs to the revision.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [name, revision, basis, dirty]);
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
  return { draft, dirty, restored, basedOn, edit, forget, discard, blocker };
}

function readKept(key: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

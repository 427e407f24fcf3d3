import { useCallback, useEffect, useRef, useState } from "react";
import { useBlocker } from "react-router";
import { type Conflict, mergeEdits, putAt, saysTheSame } from "#core/merge";

/** Unsaved work: what it began with, and what became of it. */
interface Kept<Draft> {
  basedOn: number;
  base: Draft;
  draft: Draft;
  /** It was saved as just that revision, and nothing was written since; it is shown until the revision is read. */
  done?: boolean;
}

export interface Overtaken {
  conflicts: Conflict[];
  /** Puts my work and theirs together: of each conflict's path whether theirs is taken. */
  settle: (theirs: ReadonlySet<string>) => void;
}

/**
 * A draft that survives a reload, a sign-out and a lost session: every edit is kept in this browser for this person until
 * it is saved, and leaving the page with unsaved work asks first. What somebody else saves meanwhile is put together with
 * it field by field; where both changed one field, `overtaken` shows both until the person has chosen. `takenIn` are
 * the fields of theirs that were taken in. `isSaved` says whether a draft comes to just what the revision says, however it
 * is written: then it was saved, whether or not anybody has heard of that.
 */
export function useDraft<Draft extends object>(
  name: string,
  revision: number,
  saved: Draft,
  isSaved: (draft: Draft) => boolean,
) {
  const [kept, setKept] = useState<Kept<Draft> | null>(null);
  const [restored, setRestored] = useState(false);
  const [takenIn, setTakenIn] = useState<string[]>([]);
  const [read, setRead] = useState<string | null>(null);
  useEffect(() => {
    const before = readKept<Draft>(name);
    setKept(before);
    setRestored(before !== null);
    setTakenIn([]);
    setRead(name);
  }, [name]);
  const keep = useCallback(
    (next: Kept<Draft> | null) => {
      if (next) localStorage.setItem(name, JSON.stringify(next));
      else localStorage.removeItem(name);
      setKept(next);
    },
    [name],
  );
  // What an earlier version of the page kept may lack a field that there is now.
  const own = read === name && kept ? whole(kept, saved) : null;
  const isOver =
    own !== null && (own.done ? revision >= own.basedOn : own.basedOn !== revision && isSaved(own.draft));
  const mine = isOver ? null : own;
  useEffect(() => {
    if (isOver) keep(null);
  }, [isOver, keep]);
  const draft = mine?.draft ?? saved;
  // What was typed and taken back again, or is saved meanwhile, is no unsaved work.
  const dirty = mine !== null && !mine.done && !saysTheSame(mine.draft, saved);
  // One's own revision may be known of before it is read.
  const behind = mine !== null && mine.basedOn < revision;
  const merge = behind ? mergeEdits(mine.base, mine.draft, saved) : null;
  // Nothing is fought over: theirs is taken in at once.
  const free = merge !== null && merge.conflicts.length === 0 ? merge : null;
  useEffect(() => {
    if (!free) return;
    setTakenIn(free.takenIn);
    keep({ basedOn: revision, base: saved, draft: free.merged });
    // `saved` belongs to the revision, and what is free follows from both.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [free !== null, revision, keep]);
  const edit = (change: Partial<Draft>) =>
    keep({
      basedOn: mine?.basedOn ?? revision,
      base: mine?.base ?? saved,
      draft: { ...draft, ...change },
    });
  const latest = useRef(kept);
  useEffect(() => {
    latest.current = kept;
  }, [kept]);
  const confirm = useCallback(
    (number: number, sent: Draft, from: string) => {
      // Where another sheet is open by now, what is kept of this one waits for the next time it is opened.
      const isHere = from === name;
      const now = (isHere ? latest.current : readKept<Draft>(from))?.draft ?? sent;
      const done = saysTheSame(now, sent);
      if (!isHere) {
        if (done) localStorage.removeItem(from);
        else localStorage.setItem(from, JSON.stringify({ basedOn: number, base: sent, draft: now }));
        return;
      }
      keep({ basedOn: number, base: sent, draft: now, ...(done && { done }) });
      setRestored(false);
      setTakenIn([]);
    },
    [keep, name],
  );
  const forget = useCallback(() => {
    keep(null);
    setRestored(false);
    setTakenIn([]);
  }, [keep]);
  const overtaken: Overtaken | null =
    merge && merge.conflicts.length > 0
      ? {
          conflicts: merge.conflicts,
          settle: (theirs) => {
            const chosen = merge.conflicts
              .filter((one) => theirs.has(one.path))
              .reduce((all, one) => putAt(all, one.path, one.theirs), merge.merged);
            setTakenIn([...merge.takenIn, ...theirs]);
            keep({ basedOn: revision, base: saved, draft: chosen });
          },
        }
      : null;
  useEffect(() => {
    if (!dirty) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [dirty]);
  // A session that ended leads to the sign-in and back here; the work is kept meanwhile.
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      dirty && nextLocation.pathname !== "/sign-in" && currentLocation.pathname !== nextLocation.pathname,
  );
  return {
    draft,
    dirty,
    restored,
    basedOn: mine?.basedOn ?? revision,
    edit,
    /** What was sent is saved as a revision; what was written while it was on its way stays unsaved work. */
    confirm,
    forget,
    overtaken,
    takenIn,
    blocker,
  };
}

const whole = <Draft extends object>(
  { basedOn, base, draft, done = false }: Kept<Draft>,
  saved: Draft,
): Kept<Draft> => ({
  basedOn,
  done,
  base: { ...saved, ...base },
  draft: { ...saved, ...draft },
});

function readKept<Draft>(key: string): Kept<Draft> | null {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? "null") as Partial<Kept<Draft>> | null;
    return kept?.draft && kept.base && typeof kept.basedOn === "number" ? (kept as Kept<Draft>) : null;
  } catch {
    return null;
  }
}

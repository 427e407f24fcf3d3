import { Keyboard } from "lucide-react";
import { lazy, Suspense, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { stations } from "#core/track";
import { Button } from "../parts/form";
import { stationKeys } from "./line";

const KeySheet = lazy(() => import("./key-sheet"));

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Letters lead to the stations, `/` to the search, `?` or control-K to the sheet of places and keys. */
export function Keys({ storefrontId }: { storefrontId: string }) {
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setOpen(true);
        return;
      }
      if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target) || event.defaultPrevented)
        return;
      const station = stations.find((one) => stationKeys[one] === event.key);
      if (station) void navigate(`/s/${storefrontId}/${station}`);
      else if (event.key === "h") void navigate(`/s/${storefrontId}`);
      else if (event.key === "?") setOpen(true);
      else if (event.key === "/") {
        event.preventDefault();
        document.querySelector<HTMLInputElement>('[role="search"] input')?.focus();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [navigate, storefrontId]);
  return (
    <>
      <Button
        type="button"
        $kind="bare"
        onClick={() => setOpen(true)}
        aria-label="Places and keys"
        title="Places and keys (?)"
      >
        <Keyboard size={18} aria-hidden />
      </Button>
      {open && (
        <Suspense fallback={null}>
          <KeySheet storefrontId={storefrontId} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}

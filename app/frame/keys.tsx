import { Command } from "lucide-react";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { stations } from "#core/track";
import type { ConnectionTrack as SaidConnectionTrack, OfflineTrack as SaidOffline } from "#server/home";
import { Button } from "../parts/form";
import { stationKeys } from "./stations";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/frame";

type ConnectionTrack = Spoken<SaidConnectionTrack>;
type OfflineTrack = Spoken<SaidOffline>;

const Palette = lazy(() => import("./palette"));

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
    target.closest(
      '[role="dialog"], [role="alertdialog"], [role="menu"], [role="grid"], [role="listbox"], [aria-haspopup="listbox"]',
    ) !== null);

/** Letters lead to the stations, `/` to the search, `?` or control-K to the palette. While it is open, it has the keys. */
export function Keys({
  storefrontId,
  ...has
}: {
  storefrontId: string;
  tracks: readonly ConnectionTrack[];
  offline: readonly OfflineTrack[];
}) {
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const isOpen = useRef(false);
  useEffect(() => {
    isOpen.current = open;
  }, [open]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        isOpen.current = true;
        setOpen(true);
        return;
      }
      if (isOpen.current || event.ctrlKey || event.metaKey || event.altKey) return;
      if (typing(event.target) || event.defaultPrevented) return;
      const station = stations.find((one) => stationKeys[one] === event.key);
      if (station) void navigate(`/s/${storefrontId}/${station}`);
      else if (event.key === "h") void navigate(`/s/${storefrontId}`);
      else if (event.key === "s") void navigate(`/s/${storefrontId}/shop`);
      else if (event.key === "?") {
        isOpen.current = true;
        setOpen(true);
      } else if (event.key === "/") {
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
        aria-label={t("find-anything-and-the-keys")}
        title={t("find-anything-ctrl-k")}
      >
        <Command size={18} aria-hidden />
      </Button>
      {open && (
        <Suspense fallback={null}>
          <Palette storefrontId={storefrontId} {...has} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}

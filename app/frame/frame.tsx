import { Suspense, useEffect, useState } from "react";
import { useLocation, useMatches, useParams } from "react-router";
import { styled } from "styled-components";
import { passedOf } from "#core/track";
import { keepCookie } from "../parts/cookie";
import { ifItComes } from "../parts/if-it-comes";
import { Note } from "../parts/marks";
import { useReachable } from "../parts/reach";
import type { FrameView } from "./frame-view";
import { Line } from "./line";
import { nextTrack } from "./next";
import { NextStep } from "./next-step";
import { STOREFRONT_COOKIE } from "./storefront-cookie";
import { placeOf } from "./stations";
import { Tabs } from "./tabs";
import { Toasts } from "./toasts";
import { Top } from "./top";
import { t } from "../words/pages/frame";

const Tips = ifItComes(() => import("./tips"));

const Main = styled.main`
  max-width: 84rem;
  margin: 0 auto;
  padding: 0.9rem 1.5rem 4rem;
  @media (max-width: 40rem) {
    padding: 0.8rem 0.9rem 3rem;
  }
`;

const Skip = styled.a`
  position: absolute;
  left: -100vw;
  &:focus {
    left: 0.5rem;
    top: 0.5rem;
    z-index: 5;
    background: var(--sheet);
    padding: 0.5rem;
  }
`;

/** Whether a person has begun to use the page: what tells them more need not come before. */
function useFirstUse(): boolean {
  const [used, setUsed] = useState(false);
  useEffect(() => {
    const begin = () => setUsed(true);
    const names = ["pointerover", "focusin"];
    for (const name of names) document.addEventListener(name, begin, { once: true });
    return () => names.forEach((name) => document.removeEventListener(name, begin));
  }, []);
  return used;
}

/** What stands around every page that needs a sign-in: the top, the line, whose next step it is, and the sheet. */
export function Frame({ view, children }: { view: FrameView; children: React.ReactNode }) {
  const { storefront, tracks, offline } = view;
  const all = [...tracks, ...offline];
  const { pathname, search } = useLocation();
  const { connection, offer } = useParams();
  const reachable = useReachable();
  const alone = useMatches().some((match) => (match.handle as { alone?: boolean } | undefined)?.alone);
  const here = placeOf(pathname);
  const id = storefront?.id ?? null;
  const used = useFirstUse();
  useEffect(() => {
    if (id) keepCookie(STOREFRONT_COOKIE, id);
  }, [id]);
  // Home says at each track what is next; pages of everybody are about none.
  const next = here !== null && here !== "shop" && !alone && pathname.startsWith("/s/");
  // At Cut over the one that is opened; at a cell of the board its offer.
  const lookedAt = tracks.find(
    (one) => one.connectionId === new URLSearchParams(search).get("of"),
  )?.connectionId;
  const track = next ? nextTrack(tracks, { connection: connection ?? lookedAt, offer }, here) : null;
  return (
    <>
      <Skip href="#sheet">{t("to-the-sheet")}</Skip>
      <Top storefrontId={id} tracks={tracks} offline={offline} />
      <Line
        storefrontId={id}
        passed={passedOf(all.map((one) => one.track))}
        tracks={all.length}
        here={here}
      />
      <Main id="sheet" tabIndex={-1}>
        {!reachable && <Note meaning="waits">{t("zahlung-does-not-answer-just")}</Note>}
        {here && id && <Tabs place={here} storefrontId={id} tracks={tracks} offline={offline} />}
        {track && id && (
          <NextStep storefrontId={id} one={track} here={here} own={(connection ?? offer) !== undefined} />
        )}
        {children}
      </Main>
      <Toasts />
      {used && (
        <Suspense>
          <Tips />
        </Suspense>
      )}
    </>
  );
}

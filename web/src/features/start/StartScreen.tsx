import clsx from "clsx";
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { useRun, useRunPart, useSignal } from "../run/context";
import { FirePanel, useFire } from "../run/FirePanel";
import { RunFrame } from "../run/RunFrame";
import { Tour } from "../run/Tour";
import { Captions } from "./Captions";
import { Cautions } from "./Cautions";
import { Chain, Follows } from "./Chain";
import { AloneNote, CueCard } from "../run/CueCard";
import { useSightOpen } from "./HelmetSight";
import { OpenLinkContext } from "../run/open-link";
import { LinkPanel } from "./LinkPanel";
import { Tape } from "./Tape";
import { useWide } from "./use-wide";
import { WatchPanel } from "./WatchPanel";

/** How long the card of a start stays in front before the panel follows the cue again. */
const CARD_MS = 12_000;

/** Columns with a guide on the left, and without one. */
const GUIDE = "md:grid-cols-[16rem_minmax(0,1fr)] lg:grid-cols-[19rem_minmax(0,1fr)_22rem] 3xl:grid-cols-[22rem_minmax(0,1fr)_minmax(0,1fr)_30rem]";
const ALONE = "lg:grid-cols-[minmax(0,1fr)_27rem] 3xl:grid-cols-[minmax(0,1fr)_minmax(0,1fr)_36rem]";

const Traces = lazy(() => import("../run/Traces"));

/** Whether a hand is on something: put down by the panel, lifted anywhere. */
function useHand() {
  const [down, setDown] = useState(false);
  useEffect(() => {
    const lift = () => setDown(false);
    const events = ["pointerup", "pointercancel", "blur"] as const;
    events.forEach((e) => window.addEventListener(e, lift));
    return () => events.forEach((e) => window.removeEventListener(e, lift));
  }, []);
  return { down, put: useCallback(() => setDown(true), []) };
}

/** The start: chain on top, cue left, the open link in the middle, traces and cautions right, the tape below. */
export function StartScreen() {
  const { connection, panel } = useRun();
  const cue = useRunPart((s) => s.cue?.id);
  const cueLink = useRunPart((s) => s.cue?.link);
  const [open, setOpen] = useState(panel.chain[0]!.id);
  const { mode } = connection.snapshot!.header;
  const guided = mode === "guided";
  // The panel follows the cue: what is asked for is in front of the hands. But what a hand holds, or adjusts by eye, is not taken from under it.
  const link = guided ? cueLink : undefined;
  const [followed, setFollowed] = useState<string | undefined>();
  const hand = useHand();
  const adjusting = useSightOpen(panel.sight) && panel.controls.find((c) => c.id === panel.sight!.control)?.link === open;
  if (link && cue && followed !== cue && !hand.down && !adjusting) {
    setFollowed(cue);
    setOpen(link);
  }

  // While an engine starts, the screen turns to it, but not under a hand that holds its starter; afterwards its card stays a while, until the pilot goes on.
  const starting = useSignal("watch.engine");
  const [watched, setWatched] = useState(0);
  const [seen, setSeen] = useState(0);
  if (seen !== starting && !hand.down) {
    setSeen(starting);
    if (starting > 0) {
      setWatched(starting);
    }
  }

  useEffect(() => {
    if (watched > 0 && starting === 0) {
      const timer = setTimeout(() => setWatched(0), CARD_MS);
      return () => clearTimeout(timer);
    }
  }, [watched, starting]);
  // A fire comes in front of everything; who opens a link has seen it, and finds it again from there.
  const fire = useFire(panel.fire);
  const [fireSeen, setFireSeen] = useState(false);
  if (!fire && fireSeen) {
    setFireSeen(false);
  }

  const unwatch = useCallback(() => setWatched(0), []);
  const openLink = useCallback((to: string) => {
    setWatched(0);
    setFireSeen(true);
    setOpen(to);
  }, []);
  // Where there is room a second link stands beside: the one that was open before, at first the next of the chain.
  const wide = useWide();
  const [before, setBefore] = useState({ open, beside: panel.chain[1]!.id });
  if (before.open !== open) {
    setBefore({ open, beside: before.open });
  }

  const links = panel.chain;
  const step = useCallback(
    (by: 1 | -1) => {
      setWatched(0);
      setFireSeen(true);
      setOpen((before) => links[(links.findIndex((l) => l.id === before) + by + links.length) % links.length]!.id);
    },
    [links],
  );
  const goTo = useCallback(
    (control: string) => {
      setWatched(0);
      setOpen((before) => panel.controls.find((c) => c.id === control)?.link ?? before);
    },
    [panel],
  );
  return (
    <OpenLinkContext value={openLink}>
      <RunFrame onGoTo={goTo} onStep={step}>
        <Chain open={watched > 0 ? "" : open} onOpen={openLink} />
        <main className={clsx("grid min-h-0 flex-1 grid-cols-1 gap-2 p-2", mode === "alone" ? ALONE : GUIDE)}>
          {mode !== "alone" && <CueCard onOpenLink={openLink} bars={watched === 0} />}
          {fire && panel.fire && !fireSeen ? (
            <FirePanel fire={panel.fire} readings />
          ) : watched > 0 ? (
            <WatchPanel key={watched} engine={watched} onLeave={unwatch} />
          ) : (
            <LinkPanel link={open} onHand={hand.put} onWatch={starting > 0 ? () => setWatched(starting) : undefined} onFire={fire ? () => setFireSeen(false) : undefined} />
          )}
          {wide && <LinkPanel key={before.beside} link={before.beside} onHand={hand.put} />}
          <div className={clsx("flex min-h-0 flex-col-reverse gap-2 overflow-y-auto lg:flex-col", mode !== "alone" && "md:col-start-2 lg:col-start-auto")}>
            {mode === "alone" && <AloneNote />}
            <Suspense fallback={<div className="flex-1" />}>
              <Traces />
            </Suspense>
            <Cautions />
          </div>
        </main>
        <div className="flex h-6 items-center">
          <Captions />
          <Follows />
        </div>
        <Tape />
        <Tour />
      </RunFrame>
    </OpenLinkContext>
  );
}

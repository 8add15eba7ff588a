import { lazy, Suspense, useCallback, useState } from "react";
import { useRun, useRunState } from "../run/context";
import { RunFrame } from "../run/RunFrame";
import { Captions } from "./Captions";
import { Cautions } from "./Cautions";
import { Chain } from "./Chain";
import { CueCard } from "./CueCard";
import { LinkPanel } from "./LinkPanel";
import { Tape } from "./Tape";

const Traces = lazy(() => import("../run/Traces"));

/** The start: chain on top, cue left, the open link in the middle, traces and cautions right, the tape below. */
export function StartScreen() {
  const { connection, panel } = useRun();
  const { cue } = useRunState();
  const [open, setOpen] = useState(panel.chain[0]!.id);
  const guided = connection.snapshot!.header.mode === "guided";
  // The panel follows the cue: what is asked for is in front of the hands.
  const link = guided ? cue?.link : undefined;
  const [followed, setFollowed] = useState<string | undefined>();
  if (link && cue && followed !== cue.id) {
    setFollowed(cue.id);
    setOpen(link);
  }

  const goTo = useCallback((control: string) => setOpen((before) => panel.controls.find((c) => c.id === control)?.link ?? before), [panel]);
  return (
    <RunFrame onGoTo={goTo}>
      <Chain open={open} onOpen={setOpen} />
      <main className="grid min-h-0 flex-1 grid-cols-1 gap-2 p-2 md:grid-cols-[16rem_minmax(0,1fr)] lg:grid-cols-[19rem_minmax(0,1fr)_22rem]">
        <CueCard onOpenLink={setOpen} />
        <LinkPanel link={open} />
        <div className="flex min-h-0 flex-col-reverse gap-2 md:col-span-2 lg:col-span-1 lg:flex-col">
          <Suspense fallback={<div className="flex-1" />}>
            <Traces />
          </Suspense>
          <Cautions />
        </div>
      </main>
      <Captions />
      <Tape />
    </RunFrame>
  );
}

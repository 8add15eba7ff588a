import { lazy, Suspense, useState } from "react";
import { CommandLine } from "../run/CommandLine";
import { useRun, useRunState } from "../run/context";
import { KeyList } from "../run/KeyList";
import { TopBar } from "../run/TopBar";
import { useBack } from "../run/use-back";
import { useKeys } from "../run/use-keys";
import { Captions } from "./Captions";
import { Cautions } from "./Cautions";
import { Chain } from "./Chain";
import { CueCard } from "./CueCard";
import { LinkPanel } from "./LinkPanel";
import { linkOf } from "./links";
import { Tape } from "./Tape";

const Traces = lazy(() => import("../run/Traces"));

/** The start: chain on top, cue left, the open link in the middle, traces and cautions right, the tape below. */
export function StartScreen() {
  const { connection, panel } = useRun();
  const { cue } = useRunState();
  const [open, setOpen] = useState(panel.chain[0]!.id);
  const [keys, setKeys] = useState(false);
  const [line, setLine] = useState(false);
  const back = useBack();
  useKeys({ onKeyList: () => setKeys(true), onCommandLine: () => setLine(true), onBack: back });
  const guided = connection.snapshot!.header.mode === "guided";
  // The panel follows the cue: what is asked for is in front of the hands.
  const wanted = guided && cue ? (cue.act?.target ?? cue.watch[0]) : undefined;
  const link = wanted ? linkOf(panel, wanted) : undefined;
  const [followed, setFollowed] = useState<string | undefined>();
  if (link && cue && followed !== cue.id) {
    setFollowed(cue.id);
    setOpen(link);
  }

  return (
    <div className="flex min-h-screen flex-col lg:h-screen lg:min-h-0 lg:overflow-hidden">
      <TopBar onKeyList={() => setKeys(true)} />
      <Chain open={open} onOpen={setOpen} />
      <main className="grid min-h-0 flex-1 grid-cols-1 gap-2 p-2 md:grid-cols-2 lg:grid-cols-[19rem_minmax(0,1fr)_22rem]">
        <CueCard onOpenLink={setOpen} />
        <LinkPanel link={open} />
        <div className="flex min-h-0 flex-col gap-2 md:col-span-2 lg:col-span-1">
          <Suspense fallback={<div className="flex-1" />}>
            <Traces />
          </Suspense>
          <Cautions />
        </div>
      </main>
      <Captions />
      <Tape />
      <KeyList open={keys} onClose={() => setKeys(false)} />
      <CommandLine open={line} onClose={() => setLine(false)} />
    </div>
  );
}

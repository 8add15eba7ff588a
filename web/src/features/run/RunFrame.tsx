import { useCallback, useEffect, useMemo, useState, type ReactNode } from "react";
import { Link } from "react-router";
import { Help } from "../../ui/help";
import { showToast, toastStore } from "../../ui/toast-store";
import { CommandLine } from "./CommandLine";
import { useRun } from "./context";
import { LostConnection } from "./LostConnection";
import { ReportDialog } from "./ReportDialog";
import { focusControl, pointedAt, RunUiContext, type RunUi } from "./run-ui";
import { TopBar } from "./TopBar";
import { useBack } from "./use-back";
import { keyList, useKeys } from "./use-keys";
import { WhyPanel } from "./WhyPanel";

type Open = { what: "keys" | "line" | "report" } | { what: "why"; target: string } | null;

/** The frame of every screen in a run: top bar, keys, and what opens over the screen. */
export function RunFrame({ onGoTo, onStep = () => undefined, children }: { onGoTo: (control: string) => void; onStep?: (by: 1 | -1) => void; children: ReactNode }) {
  const { connection } = useRun();
  const [open, setOpen] = useState<Open>(null);
  const close = () => setOpen(null);
  const recomputed = connection.snapshot?.recomputed;
  useEffect(() => {
    if (recomputed) {
      const shown = showToast(recomputed, "caution", true);
      return () => toastStore.drop(shown);
    }
  }, [recomputed]);
  const ui = useMemo<RunUi>(
    () => ({
      why: (target) => {
        if (connection.snapshot?.header.mode === "alone") {
          showToast("Alone: nothing but the machine. The debrief answers.");
          return;
        }

        const cue = connection.state.cue;
        setOpen({ what: "why", target: target ?? pointedAt() ?? cue?.waiting[0]?.signal ?? cue?.act?.target ?? "" });
      },
      goTo: (control, to) => {
        setOpen(null);
        onGoTo(control);
        // The link's panel is drawn first; then the control is there to take the focus.
        setTimeout(() => focusControl(control, to), 60);
      },
      report: () => setOpen({ what: "report" }),
      step: onStep,
    }),
    [connection, onGoTo, onStep],
  );
  const back = useBack();
  const keys = useCallback(() => setOpen({ what: "keys" }), []);
  useKeys({ onKeyList: keys, onCommandLine: () => setOpen({ what: "line" }), onBack: back, ui });
  return (
    <RunUiContext.Provider value={ui}>
      <div className="flex min-h-screen flex-col lg:h-screen lg:min-h-0 lg:overflow-hidden">
        <TopBar onKeyList={keys} />
        <TooNarrow />
        {children}
        {open?.what === "line" && <CommandLine onClose={close} />}
        <LostConnection />
      </div>
      <Help open={open?.what === "keys"} onClose={close} screen={connection.snapshot!.header.start === "air" ? "relight" : "start"} keys={keyList} />
      {open?.what === "report" && <ReportDialog onClose={close} />}
      {open?.what === "why" && <WhyPanel key={open.target} target={open.target} onAsk={(target) => setOpen({ what: "why", target })} onClose={close} />}
    </RunUiContext.Provider>
  );
}

/** On a phone everything is there, one below the other: enough to look on, too little to fly by. */
function TooNarrow() {
  const { connection } = useRun();
  return (
    <p data-testid="too-narrow" className="border-b border-line bg-high px-3 py-2 text-sm text-pale md:hidden">
      This screen is too narrow to fly by: cue, controls and traces do not fit side by side. Fly on a tablet or a larger screen. Here you can look on, and read the{" "}
      <Link className="text-heather underline" to={`/debrief/${connection.id}`}>
        debrief
      </Link>{" "}
      and the{" "}
      <Link className="text-heather underline" to="/logbook">
        logbook
      </Link>
      .
    </p>
  );
}

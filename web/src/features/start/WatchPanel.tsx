import clsx from "clsx";
import { memo, useEffect, useRef, useState } from "react";
import { Button } from "../../ui/button";
import { number } from "../../ui/format";
import { Shape, statusText, type Status } from "../../ui/status";
import { recall } from "../../ui/stored";
import { AdviceSwitch } from "../run/AdviceSwitch";
import { useRun, useSignal } from "../run/context";
import { ControlRow } from "../run/ControlRow";
import { SignalGauge } from "../run/SignalGauge";
import { StartCardView } from "./StartCardView";

const tone: Record<string, Status> = { none: "off", stay: "ready", "be-ready": "caution", "cut-off": "warning" };
const ADVICE = "advice";

/** The start being watched, or the one watched last: big bars, one line of advice, the levers that end it; then its card. */
export const WatchPanel = memo(function WatchPanel({ engine, onLeave }: { engine: number; onLeave: () => void }) {
  const { panel, connection } = useRun();
  const shown = panel.engines[engine - 1]!;
  const running = useSignal("watch.engine") === engine;
  const alone = connection.snapshot!.header.mode === "alone";
  const [advised, setAdvised] = useState(() => !alone || recall(ADVICE, "on") !== "off");
  const bars = panel.gauges.filter((g) => g.signal.startsWith(`${shown.id}.`) && ["oil", "fuel-flow"].includes(g.signal.split(".")[1]!));
  const controls = shown.controls.map((id) => panel.controls.find((c) => c.id === id)!);
  return (
    <section
      aria-label={`Watch ${shown.label}`}
      data-testid="watch"
      data-engine={shown.id}
      data-running={running}
      className="flex min-h-0 flex-col gap-2.5 overflow-auto rounded-lg bg-panel p-3"
    >
      <div className="flex items-center justify-between gap-2">
        <h2 className="text-sm font-bold">
          {panel.engines.length > 1 ? `${shown.label} engine` : "Engine"}: {running ? "start" : "after the start"}
        </h2>
        <span className="flex items-center gap-2">
          {alone && <AdviceSwitch name={ADVICE} advised={advised} onChange={setAdvised} />}
          <Button size="small" look="quiet" onClick={onLeave} data-testid="leave-watch">
            {running ? "Other controls" : "Go on"}
          </Button>
        </span>
      </div>
      {running && advised && <AdviceLine id={shown.id} />}
      <SignalGauge signal={`${shown.id}.egt`} size="huge" />
      <SignalGauge signal={`${shown.id}.n2`} size="huge" />
      {running ? (
        <>
          <div className="grid grid-cols-3 gap-x-5">
            {bars.map((g) => (
              <SignalGauge key={g.signal} signal={g.signal} size="large" under={shown.label.toLowerCase()} />
            ))}
            <StarterSeconds id={shown.id} />
          </div>
          <div className="mt-auto">
            <ControlRow controls={controls} />
          </div>
        </>
      ) : (
        <StartCardView engine={shown.id} />
      )}
    </section>
  );
});

function AdviceLine({ id }: { id: string }) {
  const { panel } = useRun();
  const said = panel.advice[useSignal(`${id}.advice`)]!;
  const reaction = useSignal(`${id}.reaction`);
  const taken = panel.beliefs[useSignal(`${id}.belief`)];
  const share = useSignal(`${id}.belief-share`);
  const status = tone[said.urgency] ?? "off";
  const text = useRef<HTMLParagraphElement>(null);
  // A new "cut off" is announced at once; the rest waits its turn.
  useEffect(() => text.current?.setAttribute("aria-live", said.urgency === "cut-off" ? "assertive" : "polite"), [said.urgency]);
  return (
    <p
      ref={text}
      data-testid="advice"
      data-advice={said.word}
      className={clsx(
        "flex min-h-11 items-center gap-2.5 rounded px-3 py-1.5 leading-6",
        said.urgency === "cut-off" ? "bg-warning text-xl font-bold text-ground" : ["bg-raised text-lg", statusText[status]],
      )}
    >
      {said.urgency !== "cut-off" && <Shape status={status} />}
      <span className="min-w-0">
        {said.text || "Nothing to judge yet"}
        {taken?.text && (
          <span className="block text-2xs leading-4 font-normal" data-testid="belief" data-belief={taken.word}>
            It looks like {taken.text}: {Math.round(share / 10)} in 10
          </span>
        )}
      </span>
      {reaction > 0 && said.urgency !== "cut-off" && <span className="num ml-auto text-xs whitespace-nowrap text-pale">your cut: {number(reaction, 0.1)} s</span>}
    </p>
  );
}

function StarterSeconds({ id }: { id: string }) {
  const seconds = useSignal(`${id}.starter-time`);
  const engaged = useSignal(`${id}.starter-valve`) > 0.5;
  return (
    <div data-why={`${id}.starter-valve`}>
      <div className="flex items-baseline justify-between gap-2">
        <span className="text-xs text-pale">Starter</span>
        <span className="num text-2xl">
          {number(seconds, 1)}
          <span className="ml-1 text-2xs text-pale">s</span>
        </span>
      </div>
      <p className={`text-2xs ${engaged ? statusText.advisory : "text-pale"}`}>
        <Shape status={engaged ? "advisory" : "off"} /> {engaged ? "turns the core" : "has let go"}
      </p>
    </div>
  );
}

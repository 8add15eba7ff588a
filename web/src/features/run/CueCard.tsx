import clsx from "clsx";
import { TriangleAlert } from "lucide-react";
import { memo, useState, type KeyboardEvent, type ReactNode } from "react";
import type { Cue } from "../../api/live";
import { Button } from "../../ui/button";
import { clock } from "../../ui/format";
import { Shape } from "../../ui/status";
import { showToast } from "../../ui/toast-store";
import { missing, notYet, reading, share } from "./missing";
import { NO_SIGNAL, useFlies, useRun, useRunPart, useSignal } from "./context";
import { pressCue } from "./cue-act";
import { useRunUi } from "./run-ui";
import { SignalGauge } from "./SignalGauge";
import { NextSteps, Running } from "./Ahead";
import { SignNote } from "./SignNote";
import { Checklist } from "./Checklist";

const heads: Record<Cue["kind"], string> = { act: "Now", ready: "Next, when it is time", watch: "Watch", wait: "Wait", finished: "Done" };

/** Who flies alone has no guide; a line says how it ends. */
export const AloneNote = () => (
  <p data-testid="alone" className="rounded-lg bg-panel px-3 py-2 text-xs text-pale">
    Alone: nothing but the machine. End the run when you are ready to be judged.
  </p>
);

/** What to do now, why, what to watch, and what is running. How much of it shows depends on the mode. */
export const CueCard = memo(function CueCard({ onOpenLink, bars = true, children }: { onOpenLink?: (link: string) => void; bars?: boolean; children?: ReactNode }) {
  const { connection } = useRun();
  const cue = useRunPart((s) => s.cue);
  const ended = useRunPart((s) => s.ended);
  const [stuck, setStuck] = useState("");
  const mode = connection.snapshot!.header.mode;
  const shown = mode === "guided" || (cue !== null && stuck === cue.id);
  return (
    // On a tall page that scrolls the cue stays in reach beside everything else.
    <section
      aria-label="Guide"
      className={clsx(
        "relative flex min-h-0 flex-col gap-3 overflow-auto rounded-lg bg-panel p-3",
        "md:sticky md:top-2 md:row-span-2 md:max-h-[calc(100vh-1rem)] md:self-start",
        "lg:relative lg:top-0 lg:row-span-1 lg:max-h-none lg:self-stretch",
      )}
    >
      {ended && <p className="text-pale">The run has ended. The debrief holds the judgement.</p>}
      {!ended && cue && shown && <CueBody cue={cue} onOpenLink={onOpenLink} bars={bars} />}
      {!ended && cue && !shown && (
        <Button onClick={() => setStuck(cue.id)} data-testid="stuck">
          I am stuck: show the cue
        </Button>
      )}
      {mode === "prompted" && <Checklist />}
      {children}
    </section>
  );
});

function CueBody({ cue, onOpenLink, bars }: { cue: Cue; onOpenLink?: (link: string) => void; bars: boolean }) {
  const { panel } = useRun();
  const ui = useRunUi();
  const flies = useFlies();
  const waitsOn = cue.waiting[0]?.link;
  return (
    <>
      <div data-testid="cue" data-cue={cue.id} data-kind={cue.kind} aria-live="polite">
        <p className={`flex items-center gap-1.5 text-xs ${cue.drill ? "text-warning" : "text-pale"}`}>
          {cue.drill && <Shape status="warning" />}
          {cue.drill ? "Act at once" : cue.kind === "watch" && cue.act?.kind === "hold" ? "Keep holding" : heads[cue.kind]}
        </p>
        <h2 className={`mt-1 text-xl leading-6 font-bold ${cue.drill ? "text-warning" : ""}`}>
          {cue.text}
          {cue.kind === "wait" && cue.left && <WaitLeft signal={cue.left} />}
        </h2>
        <p className="mt-1.5 text-sm text-pale">{cue.why}</p>
        {cue.hazard && (
          <p className="mt-1.5 flex gap-1.5 text-xs text-pale">
            <TriangleAlert className="size-4 shrink-0 text-caution" aria-label="Caution" /> {cue.hazard} The approved manual and local rules win.
          </p>
        )}
      </div>
      {flies && cue.act && (cue.kind === "act" || cue.kind === "ready" || cue.act.kind === "hold") && <ActButton cue={cue} />}
      {cue.sign && <SignNote sign={cue.sign} />}
      {cue.waiting.length > 0 && (cue.kind === "ready" || cue.kind === "wait") && (
        <div className="text-xs">
          <p className="mb-1 text-pale">Still missing:</p>
          {cue.waiting.slice(0, 5).map((w) => (
            <Missing key={w.signal + w.test} wait={w} />
          ))}
          <p className="mt-1 flex gap-4">
            {waitsOn && onOpenLink && (
              <button type="button" className="text-heather underline" onClick={() => onOpenLink(waitsOn)}>
                Go to {panel.chain.find((l) => l.id === waitsOn)?.label}
              </button>
            )}
            <button type="button" className="text-heather underline" onClick={() => ui.why(cue.waiting[0]!.signal)}>
              Why not yet?
            </button>
          </p>
        </div>
      )}
      {bars && cue.watch.length > 0 && (
        <div className="flex flex-col gap-2.5">
          {cue.watch.slice(0, 4).map((signal, i) => (
            <SignalGauge key={signal} signal={signal} size={i < 2 && (cue.kind === "watch" || cue.kind === "ready" || cue.drill) ? "large" : "normal"} />
          ))}
        </div>
      )}
      <NextSteps cue={cue} />
      <Running cue={cue} />
    </>
  );
}

function WaitLeft({ signal }: { signal: string }) {
  const left = useSignal(signal);
  return left > 0 && left < 9000 && <span className="num">: {clock(Math.ceil(left))} left</span>;
}

function Missing({ wait }: { wait: Cue["waiting"][number] }) {
  const { connection } = useRun();
  useSignal(wait.signal);
  const now = reading(connection, wait.signal);
  return (
    <p className="flex justify-between gap-2 py-0.5">
      <span className="truncate">{missing(connection, wait)}</span>
      <span className="num whitespace-nowrap text-caution">{now}</span>
    </p>
  );
}

// The button says the verb of the cue: "Push engine start", "Read the cautions, then acknowledge".
const verb = (text: string) => {
  const word = /, then (\w+)$/.exec(text)?.[1] ?? /^\w+/.exec(text)?.[0] ?? "Act";
  return word[0]!.toUpperCase() + word.slice(1);
};
const held = (word: string) => (["Hold", "Acknowledge"].includes(word) ? word : word === "Motor" ? "Hold" : `${word} and hold`);

function ActButton({ cue }: { cue: Cue }) {
  const { connection } = useRun();
  const unread = useRunPart((s) => s.cueIsNew);
  useSignal(cue.waiting[0]?.signal ?? NO_SIGNAL);
  const act = cue.act!;
  if (act.kind === "watch") {
    return null;
  }

  const holding = act.kind === "hold" && cue.kind === "watch";
  const word = holding
    ? "Holding"
    : act.with
      ? "Hold both"
      : act.kind === "hold"
        ? held(verb(cue.text))
        : act.kind === "look"
          ? "Checked"
          : act.number != null
            ? `Set ${act.number}`
            : verb(cue.text);
  const early = notYet(connection, cue);
  const filled = early && cue.waiting[0] ? share(connection, cue.waiting[0]) : undefined;
  const fail = (error: Error) => showToast(error.message, "caution");
  const go = () => pressCue(connection, fail);
  // The cue moves on when the hold is complete; the finger or the key comes up after that, wherever the focus is then.
  const hold = (ends: string[], mine: (e: Event) => boolean = () => true) => {
    const letGo = go();
    const release = (e: Event) => {
      if (mine(e)) {
        ends.forEach((end) => window.removeEventListener(end, release, true));
        letGo();
      }
    };
    ends.forEach((end) => window.addEventListener(end, release, true));
  };
  const byKey = (e: KeyboardEvent<HTMLButtonElement>) => {
    if ((e.key === " " || e.key === "Enter") && !e.repeat) {
      e.preventDefault();
      const key = e.key;
      hold(["keyup", "blur"], (up) => (!(up instanceof globalThis.KeyboardEvent) ? up.target === window : up.key === key));
    }
  };
  const holds = act.kind === "hold";
  return (
    <Button
      look="primary"
      size="large"
      className={clsx("relative shrink-0 overflow-hidden", cue.drill && "bg-warning", (unread || early) && "opacity-60")}
      aria-disabled={unread || early !== undefined}
      data-testid="cue-act"
      data-act={act.kind}
      data-target={act.target}
      data-to={act.number ?? act.to}
      data-with={act.with}
      data-holds={holds || undefined}
      // A hold lasts as long as the pointer or the key is down; everything else is a press.
      onPointerDown={holds && !holding ? () => hold(["pointerup", "pointercancel", "blur"]) : undefined}
      onKeyDown={holds && !holding ? byKey : undefined}
      onClick={holds ? undefined : () => void go()}
    >
      {word} <span className="ml-2 text-xs font-normal opacity-80">{early ? "not yet" : "Space"}</span>
      {filled !== undefined && (
        <span aria-hidden="true" data-testid="not-yet" className="absolute inset-x-0 bottom-0 h-1.5 origin-left bg-on-heather" style={{ transform: `scaleX(${filled})` }} />
      )}
    </Button>
  );
}

import { Slider } from "radix-ui";
import { memo, useState } from "react";
import type { Action } from "../../api/live";
import { Button } from "../../ui/button";
import { clock } from "../../ui/format";
import { useBack } from "../run/use-back";
import { useRun, useRunPart, useSeconds } from "../run/context";

const SPAN = 600;

/** The tape: every action on the run's time; choose a moment to fly on from there. */
export const Tape = memo(function Tape() {
  const { connection, panel } = useRun();
  const actions = useRunPart((s) => s.actions);
  const [picked, setPicked] = useState<number | null>(null);
  const back = useBack();
  const now = useSeconds();
  const span = Math.ceil((now + 30) / SPAN) * SPAN;
  const name = (a: Action) => {
    const label = panel.controls.find((c) => c.id === a.target)?.label ?? panel.gauges.find((g) => g.signal === a.target)?.label ?? a.target;
    const words: Record<string, string> = {
      look: `looked at ${label}`,
      release: `${label} let go`,
      end: "end of the run",
      report: `reported: ${panel.faults.find((f) => f.code === a.target)?.label ?? a.target}${a.position ? `, ${a.position.replaceAll("-", " ")}` : ""}`,
    };
    return words[a.kind] ?? `${label} → ${a.position ?? a.number}`;
  };
  const at = picked ?? now;
  const shown = (picked === null ? actions : actions.filter((a) => a.t <= at + 0.01)).slice(-3);
  return (
    <section aria-label="Tape" className="border-t border-line bg-panel px-3 pt-1.5 pb-2">
      <div className="flex h-7 items-center gap-3 text-xs">
        <span className="num text-pale">{clock(at)}</span>
        <span className="flex-1 truncate" data-testid="tape-text">
          {shown.length === 0 ? "Nothing done yet." : shown.map((a) => `${clock(a.t)} ${name(a)}`).join("   ·   ")}
        </span>
        {picked !== null && (
          <>
            <Button size="small" onClick={() => back(connection.time - picked)}>
              Fly on from {clock(picked)}
            </Button>
            <Button size="small" look="quiet" onClick={() => setPicked(null)}>
              Back to now
            </Button>
          </>
        )}
      </div>
      <div className="relative">
        <svg viewBox={`0 0 ${span} 26`} preserveAspectRatio="none" className="h-6 w-full rounded bg-raised" aria-hidden>
          <Marks actions={actions} span={span} />
          <path d={`M${now} 0V26`} className="stroke-heather" strokeWidth="2" vectorEffect="non-scaling-stroke" />
        </svg>
        <Slider.Root
          value={[Math.round(at)]}
          min={0}
          max={Math.floor(span)}
          step={1}
          onValueChange={([to]) => to !== undefined && setPicked(Math.min(to, now))}
          className="absolute inset-0 flex cursor-pointer touch-none"
        >
          <Slider.Track className="flex-1" />
          <Slider.Thumb aria-label="Moment on the tape" aria-valuetext={clock(at)} className="block h-6 w-1 rounded bg-heather" />
        </Slider.Root>
      </div>
    </section>
  );
});

/** A tick a minute and a mark an action; one path each, and drawn again only when something was done. */
const Marks = memo(function Marks({ actions, span }: { actions: Action[]; span: number }) {
  const looks = actions.filter((a) => a.kind === "look");
  const acts = actions.filter((a) => a.kind !== "look");
  return (
    <>
      <path
        d={Array.from({ length: Math.floor(span / 60) }, (_, i) => `M${(i + 1) * 60} 18V26`).join("")}
        className="stroke-line"
        strokeWidth="1"
        vectorEffect="non-scaling-stroke"
      />
      <path d={looks.map((a) => `M${a.t} 12V18`).join("")} className="stroke-pale" strokeWidth="2" vectorEffect="non-scaling-stroke" />
      <path d={acts.map((a) => `M${a.t} 4V18`).join("")} className="stroke-bone" strokeWidth="2" vectorEffect="non-scaling-stroke" />
    </>
  );
});

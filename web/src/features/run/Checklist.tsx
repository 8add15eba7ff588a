import { useEffect, useRef } from "react";
import { OPEN, WAS_SO } from "../../api/run-connection";
import { useRun, useRunPart } from "./context";
import { StepLine } from "./StepLine";

/** Every step with its state: done is what the machine says, not what was ticked. */
export function Checklist() {
  const { connection } = useRun();
  const done = useRunPart((s) => s.done);
  const list = useRef<HTMLOListElement>(null);
  const open = done.indexOf(OPEN);
  // The first step that is open comes into sight by itself, once for each.
  useEffect(() => {
    const [row, box] = [list.current?.querySelectorAll<HTMLElement>("[data-step]")[open], list.current?.closest<HTMLElement>("[aria-label=Guide]")];
    if (row && box) {
      box.scrollTop = row.offsetTop - box.clientHeight / 2;
    }
  }, [open]);
  let at = 0;
  return (
    <ol ref={list} aria-label="Checklist" className="text-sm">
      {connection.snapshot!.phases.map((phase) => (
        <li key={phase.id} className="mb-2">
          <p className="text-xs text-pale">{phase.title}</p>
          <ul>
            {phase.steps.map((step) => {
              const state = done[at++] ?? OPEN;
              const ok = state !== OPEN;
              return (
                <li key={step.id} className="flex items-baseline gap-2">
                  <span className={`num w-4 ${state !== WAS_SO && ok ? "text-ready" : "text-pale"}`}>{!ok ? "·" : state === WAS_SO ? "=" : "✓"}</span>
                  <StepLine id={step.id} text={step.cue} pale={ok}>
                    {state === WAS_SO && <span className="text-2xs leading-5 text-pale">already set</span>}
                  </StepLine>
                </li>
              );
            })}
          </ul>
        </li>
      ))}
    </ol>
  );
}

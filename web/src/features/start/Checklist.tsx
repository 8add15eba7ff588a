import { useRun, useRunPart } from "../run/context";

/** Every step with its state: done is what the machine says, not what was ticked. */
export function Checklist() {
  const { connection } = useRun();
  const done = useRunPart((s) => s.done);
  let at = 0;
  return (
    <ol aria-label="Checklist" className="text-sm">
      {connection.snapshot!.phases.map((phase) => (
        <li key={phase.id} className="mb-2">
          <p className="text-xs text-pale">{phase.title}</p>
          <ul>
            {phase.steps.map((step) => {
              const ok = done[at++] === "1";
              return (
                <li key={step.id} className={`flex gap-2 py-0.5 ${ok ? "text-pale" : ""}`}>
                  <span className={`num w-4 ${ok ? "text-ready" : "text-pale"}`}>{ok ? "✓" : "·"}</span>
                  {step.cue}
                </li>
              );
            })}
          </ul>
        </li>
      ))}
    </ol>
  );
}

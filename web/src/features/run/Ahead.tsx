import type { Cue } from "../../api/live";
import { clock } from "../../ui/format";
import { useLongest, useRun, useRunPart, useSeconds, useSignal } from "./context";
import { StepLine } from "./StepLine";
import { useRoom } from "./use-room";

/** What comes after the cue, each with its seconds and whether it fits into what runs; and a nudge to hands that stay idle. */
export function NextSteps({ cue }: { cue: Cue }) {
  const longest = useLongest(cue.running.flatMap((r) => r.left ?? []));
  // Where the eyes must stay there is nothing beside them.
  const shown = cue.kind !== "watch" ? cue.next : [];
  const list = useRoom<HTMLUListElement>([longest > 0, ...shown.map((n) => n.text)].join());
  if (shown.length === 0) {
    return null;
  }

  const upTo = shown.map((_, i) => shown.slice(0, i + 1).reduce((sum, n) => sum + n.takesS, 0));
  return (
    <section aria-label="Next" data-testid="next" className="flex min-h-20 flex-1 flex-col text-xs">
      <Nudge cue={cue} longest={longest} />
      <p className="mb-0.5 flex justify-between text-pale">
        <span>Then</span>
        {longest > 0 && <span>fits into {clock(longest)}</span>}
      </p>
      <ul ref={list} className="flex min-h-0 flex-1 flex-col flex-wrap overflow-hidden">
        {shown.map((n, i) => (
          <li key={n.id} className="w-full">
            <StepLine id={n.id} text={n.text} pale={!n.open}>
              <span className="num whitespace-nowrap text-pale">{Math.ceil(n.takesS)} s</span>
              {longest > 0 && <span className={`w-3 text-right ${upTo[i]! <= longest ? "text-ready" : "text-pale"}`}>{upTo[i]! <= longest ? "✓" : "–"}</span>}
            </StepLine>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Nudge({ cue, longest }: { cue: Cue; longest: number }) {
  const { connection } = useRun();
  useSeconds();
  const last = useRunPart((s) => s.actions.at(-1)?.t ?? 0);
  const paused = useRunPart((s) => s.paused);
  const idle = Math.floor(connection.time - last);
  if (paused || cue.drill || cue.kind !== "act" || idle <= connection.snapshot!.idleAfterS || longest < Math.max(10, cue.takesS)) {
    return null;
  }

  return (
    <p data-testid="nudge" role="status" className="mb-1.5 text-advisory">
      ◆ Hands idle {idle} s. This takes {Math.ceil(cue.takesS)} s, and {clock(longest)} are left to wait: it fits.
    </p>
  );
}

/** More waits than this are shown without what would spoil them: the column must hold them all. */
const MANY = 3;

/** Every wait that runs, how long still, and what would throw it away. */
export function Running({ cue }: { cue: Cue }) {
  if (cue.running.length === 0) {
    return null;
  }

  const few = cue.running.length <= MANY;
  return (
    <section aria-label="Running" className="mt-auto border-t border-line pt-2 text-xs">
      <p className="mb-0.5 text-pale">Running</p>
      {cue.running.map((r) => (
        <div key={r.id}>
          <StepLine id={r.id} text={r.text}>
            {r.left ? <Left signal={r.left} /> : <span className="text-advisory">◆</span>}
          </StepLine>
          {few && r.spoiledBy && <p className="pb-0.5 text-2xs text-pale">Lost by: {r.spoiledBy.charAt(0).toLowerCase() + r.spoiledBy.slice(1)}</p>}
        </div>
      ))}
    </section>
  );
}

function Left({ signal }: { signal: string }) {
  const value = useSignal(signal);
  return <span className="num">{clock(value)}</span>;
}

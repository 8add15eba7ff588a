import type { Link } from "../../api/client";
import { OPEN, type RunConnection } from "../../api/run-connection";
import { number } from "../../ui/format";
import { Shape, statusText, type Status } from "../../ui/status";
import { useRun, useRunPart, useSignal } from "../run/context";

/** The chain of energy: each link in a word and a number; pressing one opens it. */
export function Chain({ open, onOpen }: { open: string; onOpen: (link: string) => void }) {
  const { panel } = useRun();
  const cue = useRunPart((s) => s.cue);
  const holding = new Set(cue?.waiting.map((w) => w.link) ?? []);
  return (
    <nav aria-label="Chain of energy" className="grid grid-cols-5 gap-1 border-b border-line bg-panel px-2 py-1.5 lg:flex lg:items-stretch lg:gap-0">
      {panel.chain.map((link, i) => (
        <ChainLink key={link.id} link={link} first={i === 0} open={open === link.id} holding={holding.has(link.id)} onOpen={() => onOpen(link.id)} />
      ))}
    </nav>
  );
}

function ChainLink({ link, first, open, holding, onOpen }: { link: Link; first: boolean; open: boolean; holding: boolean; onOpen: () => void }) {
  const { connection } = useRun();
  const state = link.states[useSignal(`chain.${link.id}`)] ?? link.states[0]!;
  const value = useSignal(link.number);
  const info = connection.info(link.number);
  const status = state.status as Status;
  const left = useRunPart((s) => (link.id === "ready" ? stepsLeft(connection, s.done) : 0));
  return (
    <>
      {!first && <span aria-hidden className={`my-auto hidden h-0.5 w-3 shrink-0 lg:block ${status === "off" ? "bg-line" : "bg-bone"}`} />}
      <button
        type="button"
        data-link={link.id}
        data-why={link.number}
        aria-current={open}
        onClick={onOpen}
        className={`min-w-0 flex-1 rounded-2xl border px-2.5 py-1 text-left ${open ? "border-heather bg-heather-soft" : holding ? "border-dashed border-caution" : "border-line bg-raised/60 hover:bg-high"}`}
      >
        <span className="flex items-baseline justify-between gap-1 text-2xs text-pale">
          <span>{link.label}</span>
          {holding && <span className="text-caution">waits</span>}
        </span>
        <span className="num block text-sm leading-5 whitespace-nowrap">
          {link.id === "ready" ? left : number(value, info?.quantum ?? 1)}
          <span className="ml-0.5 text-2xs text-pale">{link.id === "ready" ? (left === 1 ? "step left" : "steps left") : info?.unit}</span>
        </span>
        <span className={`flex items-center gap-1 text-2xs whitespace-nowrap ${statusText[status]}`}>
          <Shape status={status} />
          {state.word}
        </span>
      </button>
    </>
  );
}

/** Steps that must still be done: the last link counts them down. */
function stepsLeft(connection: RunConnection, done: string): number {
  const steps = connection.snapshot!.phases.flatMap((p) => p.steps);
  return steps.filter((s, i) => !s.optional && done[i] === OPEN).length;
}

import clsx from "clsx";
import { memo, type ComponentPropsWithRef } from "react";
import type { Link } from "../../api/client";
import { OPEN, type RunConnection } from "../../api/run-connection";
import { number } from "../../ui/format";
import { Hint } from "../../ui/hint";
import { Shape, statusText, type Status } from "../../ui/status";
import { useRun, useRunPart, useSignal } from "../run/context";
import { missing } from "../run/missing";

/** The chain of energy: each link in a word and a number; between two of them a line as wide as what is handed down. Pressing a link opens it. */
export const Chain = memo(function Chain({ open, onOpen }: { open: string; onOpen: (link: string) => void }) {
  const { panel } = useRun();
  const cue = useRunPart((s) => s.cue);
  const holding = new Set(cue?.waiting.map((w) => w.link) ?? []);
  return (
    <nav aria-label="Chain of energy" className="border-b border-line bg-panel px-2 py-1.5">
      {/* On a phone the links keep their width, and the row is pushed along. */}
      <div className="grid grid-cols-5 gap-x-3 gap-y-1.5 max-sm:flex max-sm:overflow-x-auto max-sm:*:w-28 max-sm:*:shrink-0 lg:auto-cols-fr lg:grid-flow-col lg:grid-cols-none">
        {panel.chain.map((link) => (
          <ChainLink key={link.id} link={link} open={open === link.id} holding={holding.has(link.id)} onOpen={onOpen} />
        ))}
      </div>
    </nav>
  );
});

/** What everything waits for, and what follows when it comes. */
export const Follows = memo(function Follows() {
  const { panel, connection } = useRun();
  const cue = useRunPart((s) => s.cue);
  // What comes next is the guide's word.
  const told = connection.snapshot!.header.mode === "guided";
  const link = told && cue && cue.kind !== "act" && cue.kind !== "finished" ? panel.chain.find((l) => l.id === cue.waiting[0]?.link) : undefined;
  const then = cue?.kind === "ready" ? cue.text : cue?.next[0]?.text;
  return (
    <p data-testid="follows" className="max-w-[70%] shrink-0 overflow-hidden px-3 text-right text-xs text-ellipsis whitespace-nowrap text-pale">
      {link && cue && (
        <>
          <span className="text-caution">▲ Everything waits for {link.label}</span>
          {`: ${missing(connection, cue.waiting[0]!)}`}
          {then && <>; then “{then}”</>}
        </>
      )}
    </p>
  );
});

const ChainLink = memo(function ChainLink({ link, open, holding, onOpen }: { link: Link; open: boolean; holding: boolean; onOpen: (link: string) => void }) {
  const { connection, panel } = useRun();
  const state = link.states[useSignal(`chain.${link.id}`)] ?? link.states[0]!;
  const value = useSignal(link.number);
  const info = connection.info(link.number);
  const status = state.status as Status;
  // A value that means nothing now is a dash, as on its gauge.
  const dashFrom = panel.gauges.find((g) => g.signal === link.number)?.dashFrom;
  const unsaid = dashFrom != null && value >= dashFrom;
  const left = useRunPart((s) => (link.id === "ready" ? stepsLeft(connection, s.done) : 0));
  return (
    <div className="relative min-w-0">
      {link.takes && (
        <Hint text={<HandedWords link={link.id} takes={link.takes} />} side="bottom">
          <Handed link={link.id} takes={link.takes} />
        </Hint>
      )}
      <button
        type="button"
        data-link={link.id}
        data-why={link.number}
        aria-current={open}
        onClick={() => onOpen(link.id)}
        className={clsx(
          "w-full rounded-2xl border px-2.5 py-1 text-left",
          open ? "border-heather bg-heather-soft" : holding ? "border-dashed border-caution" : "border-line bg-raised/60 hover:bg-high",
        )}
      >
        <span className="flex items-baseline justify-between gap-1 text-2xs text-pale">
          <span>{link.label}</span>
          {holding && <span className="text-caution">waits</span>}
        </span>
        <span className="num block text-sm leading-5 whitespace-nowrap">
          {link.id === "ready" ? left : unsaid ? "–" : number(value, info?.quantum ?? 1)}
          <span className="ml-0.5 text-2xs text-pale">{unsaid ? "" : link.id === "ready" ? (left === 1 ? "step left" : "steps left") : info?.unit}</span>
        </span>
        <span className={`flex items-center gap-1 text-2xs whitespace-nowrap ${statusText[status]}`}>
          <Shape status={status} />
          {state.word}
        </span>
      </button>
    </div>
  );
});

/** The widest line, px, and the narrowest that is one. */
const [WIDEST, NARROWEST] = [14, 2];

interface HandedProps {
  link: string;
  takes: NonNullable<Link["takes"]>;
}

/** The line from the link before: as wide as what is handed down; where nothing is, it ends on both sides of a gap. */
function Handed({ link, takes, ...rest }: HandedProps & ComponentPropsWithRef<"span">) {
  const value = useSignal(`chain.${link}.handed`);
  const share = Math.min(1, value / takes.most);
  return (
    <span {...rest} data-handed={link} data-share={share.toFixed(2)} className="absolute inset-y-2 -left-3 flex w-3 items-center justify-between">
      {value > 0 ? (
        <span className="w-full bg-bone" style={{ height: `${Math.max(NARROWEST, share * WIDEST)}px` }} />
      ) : (
        <>
          <span className="h-2 w-0.5 bg-line" />
          <span className="h-2 w-0.5 bg-line" />
        </>
      )}
      <span className="sr-only">
        <HandedWords link={link} takes={takes} />
      </span>
    </span>
  );
}

function HandedWords({ link, takes }: HandedProps) {
  const { connection } = useRun();
  const value = useSignal(`chain.${link}.handed`);
  const quantum = connection.info(`chain.${link}.handed`)?.quantum ?? 1;
  return value > 0 ? `${number(value, Math.max(0.1, quantum))} ${takes.unit}: ${takes.what}` : `Nothing is handed on: ${takes.what}`;
}

/** Steps that must still be done: the last link counts them down. */
function stepsLeft(connection: RunConnection, done: string): number {
  return connection.steps.filter((s, i) => !s.optional && done[i] === OPEN).length;
}

import clsx from "clsx";
import { memo, useCallback, useMemo, useSyncExternalStore } from "react";
import type { Lamp } from "../../api/client";
import { Shape, statusText, type Status } from "../../ui/status";
import { useFlies, useRun, useSend, useSignal } from "../run/context";
import { InHint } from "../run/InHint";
import { useRunUi } from "../run/run-ui";

const order = ["warning", "caution", "advisory", "ready"];

/** Every lamp in a place of its own, lit ones by colour, shape and word; above them the stack of cautions in the order they came. */
export const Cautions = memo(function Cautions() {
  const { panel } = useRun();
  const lamps = useMemo(() => [...panel.lamps].sort((a, b) => order.indexOf(a.class) - order.indexOf(b.class)), [panel]);
  const stack = useStack();
  return (
    <section aria-label="Cautions" className="rounded-lg bg-panel p-2">
      <div className="mb-1 flex items-center justify-between gap-2">
        <h2 className="text-xs whitespace-nowrap text-pale">Lamps and cautions</h2>
        <Master gaps={stack.some((s) => s === null)} />
      </div>
      <Stack stack={stack} />
      <ul className="grid grid-cols-3 gap-x-2">
        {lamps.map((l) => (
          <LampCell key={l.id} lamp={l} />
        ))}
      </ul>
    </section>
  );
});

function Master({ gaps }: { gaps: boolean }) {
  const { connection } = useRun();
  const flies = useFlies();
  const master = useSignal("caution.master") > 0.5;
  const send = useSend();
  const release = () => send("Release", "acknowledge");
  return (
    <button
      type="button"
      data-testid="master-caution"
      data-lit={master}
      onPointerDown={() => send("Hold", "acknowledge", "pressed")}
      onPointerUp={release}
      onKeyDown={(e) => !e.repeat && (e.key === "Enter" || e.key === " ") && send("Hold", "acknowledge", "pressed")}
      onKeyUp={(e) => (e.key === "Enter" || e.key === " ") && release()}
      disabled={!flies || !connection.index.has("acknowledge")}
      className={`rounded px-2 py-0.5 text-2xs ${master ? "bg-caution font-bold text-ground" : "text-pale hover:bg-high"}`}
    >
      {master ? "▲ new caution: acknowledge" : gaps ? "tidy the cautions" : "nothing new"}
    </button>
  );
}

/** Lit cautions by their place in the stack; null where one or more have gone and left a gap. */
function useStack(): (Lamp | null)[] {
  const { panel, connection } = useRun();
  const subscribe = useCallback(
    (listener: () => void) => {
      const offs = panel.lamps.flatMap((l) => [connection.onSignal(`stack.${l.id}`, listener), connection.onSignal(`lamp.${l.id}`, listener)]);
      return () => offs.forEach((off) => off());
    },
    [panel, connection],
  );
  const places = useSyncExternalStore(subscribe, () => panel.lamps.map((l) => (connection.value(`stack.${l.id}`) || 0) * (connection.value(`lamp.${l.id}`) > 0.5 ? 1 : -1)).join());
  const at = places.split(",").map(Number);
  return panel.lamps
    .map((lamp, i) => ({ lamp, place: Math.abs(at[i]!), lit: at[i]! > 0 }))
    .filter((s) => s.place > 0)
    .sort((a, b) => a.place - b.place)
    .map((s) => (s.lit ? s.lamp : null))
    .filter((s, i, all) => s !== null || all[i - 1] !== null);
}

function Stack({ stack }: { stack: (Lamp | null)[] }) {
  return (
    <ol aria-label="Stack of cautions" data-testid="stack" className="mb-1 flex min-h-10 flex-wrap content-start gap-1 text-2xs whitespace-nowrap">
      {stack.map((lamp, i) =>
        lamp ? (
          <li key={lamp.id} className={`rounded bg-raised px-1 ${statusText[lamp.class as Status]}`}>
            {lamp.label}
          </li>
        ) : (
          <li key={`gap-${i}`} aria-label="gap" className="h-4 rounded border border-dashed border-line px-2" />
        ),
      )}
    </ol>
  );
}

const LampCell = memo(function LampCell({ lamp }: { lamp: Lamp }) {
  const ui = useRunUi();
  const lit = useSignal(`lamp.${lamp.id}`) > 0.5;
  const status = lamp.class as Status;
  // Too many and too close for buttons that a finger hits: a press asks all the same, and keys ask by w or by "why" on the command line.
  return (
    <InHint of={`lamp.${lamp.id}`} side="left">
      <li
        data-lamp={lamp.id}
        data-why={`lamp.${lamp.id}`}
        data-lit={lit}
        onClick={() => ui.why(`lamp.${lamp.id}`)}
        className={clsx("flex min-w-0 cursor-pointer items-center gap-1 py-px text-2xs", lit ? statusText[status] : "text-pale/75")}
      >
        {lit ? <Shape status={status} /> : <span className="inline-block w-3 text-center">·</span>}
        <span className={clsx("truncate", lit && "font-bold")}>{lamp.label}</span>
        <span className="sr-only">{lit ? "lit" : "dark"}</span>
      </li>
    </InHint>
  );
});

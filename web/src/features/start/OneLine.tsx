import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState, useSyncExternalStore } from "react";
import { api, type Panel } from "../../api/client";
import type { RunConnection } from "../../api/run-connection";
import { number } from "../../ui/format";
import { Shape } from "../../ui/status";
import { useRun } from "../run/context";
import { useRunUi } from "../run/run-ui";
import { layOut, NODE, type Node } from "./one-line";

/** What a source gives now: whether it delivers, the number to show, and whether it has too much. */
function read(c: RunConnection, panel: Panel, id: string): { on: boolean; shown: string; over?: boolean } {
  const volts = (signal: string) => `${number(c.value(signal), 0.1)} V`;
  const name = id.slice(id.indexOf(".") + 1);
  if (id === "battery") {
    return { on: c.value("battery.volts") > 1, shown: `${volts("battery.volts")} ${number(c.value("battery.amps"), 1)} A` };
  }

  if (id.startsWith("source.")) {
    return { on: c.value(`${id}.good`) > 0.5, shown: volts(id) };
  }

  if (id.startsWith("inverter.")) {
    return { on: c.value(id) > 0.5, shown: c.value(id) > 0.5 ? "delivers" : "off" };
  }

  if (id.startsWith("bus.")) {
    const loads = panel.loads.filter((l) => l.bus === name && c.value(`load.${l.id}`) > 0.5);
    return { on: c.value(`${id}.live`) > 0.5, shown: c.value(`${id}.live`) > 0.5 ? `${volts(id)} ${Math.round(loads.reduce((sum, l) => sum + l.watts, 0))} W` : "dead" };
  }

  const on = c.value(`${name}.generator`) > 0.5;
  const load = c.value(`${name}.generator-load`);
  const left = c.value(`${name}.generator-left`);
  const over = on && load > 100;
  const tripped = c.value(`${name}.generator-tripped`) > 0.5;
  return { on, over: over || tripped, shown: tripped ? "tripped" : !on ? "off line" : over ? `${Math.round(load)} %, ${Math.round(left)} s` : `on line ${Math.round(load)} %` };
}

/** The live one-line diagram: who feeds whom, drawn from the aircraft's data. Press a source to see what falls without it, a bus for its loads. */
export function OneLine() {
  const { panel, connection } = useRun();
  const layout = useMemo(() => layOut(panel.electrics, panel), [panel]);
  const [picked, setPicked] = useState<Node | null>(null);
  const subscribe = useCallback(
    (listener: () => void) => {
      const offs = layout.nodes
        .flatMap((n) => [
          n.id,
          `${n.id}.live`,
          `${n.id}.good`,
          `${n.id}.feed`,
          "battery.volts",
          `${n.id.slice(4)}.generator`,
          `${n.id.slice(4)}.generator-load`,
          `${n.id.slice(4)}.generator-left`,
          `${n.id.slice(4)}.generator-tripped`,
        ])
        .map((s) => connection.onSignal(s, listener));
      const loads = panel.loads.map((l) => connection.onSignal(`load.${l.id}`, listener));
      return () => [...offs, ...loads].forEach((off) => off());
    },
    [layout, panel, connection],
  );
  const state = useSyncExternalStore(subscribe, () =>
    layout.nodes.map((n) => `${Number(read(connection, panel, n.id).on)}${read(connection, panel, n.id).shown}${connection.value(`${n.id}.feed`)}`).join("|"),
  );
  const without = useQuery({
    queryKey: ["without", connection.id, picked?.id, state],
    queryFn: () => api.without(connection.id, picked!.id),
    enabled: picked?.kind === "source",
    retry: false,
    gcTime: 0,
    placeholderData: (p) => p,
  });
  const lost = new Set(picked?.kind === "source" ? (without.data?.buses ?? []).map((b) => `bus.${b}`) : []);
  return (
    <figure aria-label="One-line diagram" className="min-w-0">
      <svg viewBox={`-4 -4 ${layout.width + 8} ${layout.height + 8}`} className="max-h-52 w-full" role="group" aria-label="Sources and buses">
        {layout.edges.map((e) => {
          const live = e.feed === 0 ? read(connection, panel, e.bus).on : connection.value(`bus.${e.bus}.feed`) === e.feed;
          return (
            <path
              key={`${e.from}/${e.bus}`}
              data-edge={`${e.from}/${e.bus}`}
              data-live={live}
              d={e.path}
              fill="none"
              className={live ? "stroke-ready" : "stroke-line"}
              strokeWidth={live ? 3 : 1.5}
              strokeDasharray={live ? undefined : "3 4"}
            />
          );
        })}
        {layout.nodes.map((n) => (
          <Box key={n.id} node={n} {...read(connection, panel, n.id)} picked={picked?.id === n.id} lost={lost.has(n.id)} onPick={() => setPicked(picked?.id === n.id ? null : n)} />
        ))}
      </svg>
      <figcaption className="mt-1 min-h-9 text-xs" aria-live="polite" data-testid="one-line-text">
        {!picked && <span className="text-pale">Press a source to see what falls without it, a bus for its loads.</span>}
        {picked?.kind === "source" && <Without label={picked.label} loads={without.data?.loads ?? []} buses={without.data?.buses ?? []} />}
        {picked?.kind === "bus" && <Loads bus={picked} />}
      </figcaption>
    </figure>
  );
}

interface BoxProps {
  node: Node;
  on: boolean;
  shown: string;
  picked: boolean;
  lost: boolean;
  over?: boolean;
  onPick: () => void;
}

function Box({ node, on, shown, picked, lost, over = false, onPick }: BoxProps) {
  const tone = lost || over ? "stroke-caution" : picked ? "stroke-heather" : on ? "stroke-ready" : "stroke-line";
  return (
    <g
      role="button"
      tabIndex={0}
      data-node={node.id}
      data-on={on}
      data-why={node.kind === "bus" ? `${node.id}.live` : node.id}
      aria-pressed={picked}
      aria-label={`${node.label}: ${shown}${lost ? ", would go dark" : over ? ", overloaded" : ""}`}
      transform={`translate(${node.x} ${node.y})`}
      className="cursor-pointer"
      onClick={onPick}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          onPick();
        }
      }}
    >
      <rect
        width={NODE.width}
        height={NODE.height}
        rx={node.kind === "bus" ? 2 : 12}
        className={`fill-raised ${tone}`}
        strokeWidth={lost || over || picked ? 2.5 : 1.5}
        strokeDasharray={lost ? "5 3" : undefined}
      />
      {node.kind === "bus" && <rect width="5" height={NODE.height} className={on ? "fill-ready" : "fill-line"} />}
      <text x="12" y="15" className="fill-bone text-[11px]">
        {node.label}
      </text>
      <text x="12" y="29" className={`num text-[11px] ${lost || over ? "fill-caution" : on ? "fill-ready" : "fill-pale"}`}>
        {over && !lost && "▲ "}
        {lost ? "would go dark" : shown}
      </text>
    </g>
  );
}

function Without({ label, buses, loads }: { label: string; buses: readonly string[]; loads: readonly { id: string; label: string; afterS: number }[] }) {
  if (buses.length === 0) {
    return (
      <span className="text-pale">
        <Shape status="ready" /> Without {label} nothing goes dark now.
      </span>
    );
  }

  return (
    <>
      <Shape status="caution" /> Without {label}, in this order:{" "}
      {loads.map((l, i) => (
        <span key={l.id}>
          {i > 0 && " · "}
          {l.label}
          {l.afterS > 0 && <span className="text-pale"> after {l.afterS} s</span>}
        </span>
      ))}
    </>
  );
}

function Loads({ bus }: { bus: Node }) {
  const { panel, connection } = useRun();
  const ui = useRunUi();
  const loads = panel.loads.filter((l) => `bus.${l.bus}` === bus.id);
  return (
    <span className="flex flex-wrap gap-x-3 gap-y-0.5">
      {loads.length === 0 && <span className="text-pale">{bus.label} feeds no load of its own.</span>}
      {loads.map((l) => {
        const on = connection.value(`load.${l.id}`) > 0.5;
        const shed = connection.value(`load.${l.id}.shed`) > 0.5;
        return (
          <button key={l.id} type="button" data-why={`load.${l.id}`} onClick={() => ui.why(`load.${l.id}`)} className={on ? "" : "text-pale"}>
            <Shape status={shed ? "caution" : on ? "ready" : "off"} /> {l.label} {Math.round(l.watts)} W{shed && ", shed"}
          </button>
        );
      })}
    </span>
  );
}

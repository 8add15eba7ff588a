import { useEffect, useMemo, useRef } from "react";
import type uPlot from "uplot";
import type { Debrief } from "../../api/client";
import { clock } from "../../ui/format";
import { makeStrip } from "../../ui/strip";
import { traceLine } from "../../ui/trace-lines";

interface Props {
  debrief: Debrief;
  at: number | null;
  onPick: (t: number) => void;
}

/** The whole run as traces recomputed from its log: events as ticks, findings as marks, one moment picked. */
export function EvidenceTraces({ debrief, at, onPick }: Props) {
  const rows = useMemo(() => rowsOf(debrief), [debrief]);
  return (
    <section className="rounded-lg bg-panel p-3" aria-label="Traces">
      <p className="num mb-1 text-xs text-pale">{at === null ? "Press a finding, a step or a trace to pick a moment." : `Picked: ${clock(at)}`}</p>
      {rows.map((row) => (
        <Trace key={row.title} debrief={debrief} {...row} at={at} onPick={onPick} />
      ))}
    </section>
  );
}

interface Row {
  title: string;
  signals: string[];
  low: number;
  high: number;
}

/** What was recorded decides what is drawn: every engine's speed and gas, then height in the air, the alignment, or the battery where there is none. */
function rowsOf({ header, traces, labels }: Debrief): Row[] {
  // The axes are those of the gauges; what never meant anything is no line.
  const means = (name: string) => {
    const [values, dash] = [traces.columns[name] ?? [], traces.dashFrom[name]];
    return dash === undefined || values.some((v) => v < dash);
  };
  const row = (title: string, end: string): Row => {
    const signals = Object.keys(traces.columns)
      .filter((name) => name.endsWith(end) && means(name))
      .sort();
    const scales = signals.map((s) => traces.scales[s]).filter((s) => s !== undefined);
    return { title, signals, low: Math.min(...scales.map((s) => s[0]!)), high: Math.max(...scales.map((s) => s[1]!)) };
  };
  const heading = labels["ins.certainty"] ? "ins.certainty" : "ins.heading-error";
  // A set that never ran stands still.
  const [first, ...later] = traces.columns[heading] ?? [];
  const last = [
    ...(header.start === "air" ? [row("Height, ft", "flight.height")] : []),
    ...(later.some((v) => v !== first) ? [row(labels[heading] ?? "", heading)] : []),
    row("Battery, V", "battery.volts"),
  ];
  return [row("Core speed, %", ".n2"), row("Gas temperature, °C", ".egt"), ...last.filter((r) => r.signals.length > 0).slice(0, 1)];
}

function Trace({ debrief, title, signals, low, high, at, onPick }: Props & Row) {
  const host = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | null>(null);
  const picked = useRef(at);
  const pick = useRef(onPick);
  const { columns, dashFrom } = debrief.traces;
  const data = useMemo(() => {
    const n = columns[signals[0] ?? ""]?.length ?? 0;
    const drawn = (s: string) => (columns[s] ?? []).map((v) => (v < (dashFrom[s] ?? Infinity) ? v : null));
    return [Array.from({ length: n }, (_, i) => i / debrief.traces.hz), ...signals.map(drawn)] as uPlot.AlignedData;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the signals of a row never change while its run is open
  }, [columns, debrief.traces.hz]);
  useEffect(() => {
    pick.current = onPick;
  });
  useEffect(() => {
    const box = host.current!;
    const { plot: made, end } = makeStrip(box, {
      lines: signals.length,
      // At least the range that matters, so that a still engine does not look like a mountain range.
      range: (min, max) => [Math.min(low, min), Math.max(high, max) * 1.02],
      gutter: 48,
      lineWidth: 1.5,
      data,
      draw: ({ moment, height }) => {
        debrief.actions.forEach((a) => moment(a.t, "--line", height - 8, 1));
        debrief.judgement.findings.forEach((f) => moment(f.from, f.severity === "caution" ? "--caution" : f.severity === "note" ? "--advisory" : "--warning", 0, 2));
        if (picked.current !== null) {
          moment(picked.current, "--heather", 0, 2);
        }
      },
      onPick: (t) => pick.current(t),
    });
    plot.current = made;
    return () => {
      end();
      plot.current = null;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- as above
  }, [data, debrief]);
  useEffect(() => {
    // Not on the first run: a redraw before the plot's own first one would take its scales away.
    if (picked.current !== at) {
      picked.current = at;
      plot.current?.redraw(false);
    }
  }, [at]);
  return (
    <figure className="mb-1" data-testid="trace" data-signals={signals.join(" ")} data-points={data[0]!.length}>
      <figcaption className="flex justify-between text-xs text-pale">
        <span>{title}</span>
        <span>{signals.map((s, i) => `${traceLine(i).mark} ${debrief.labels[s] ?? s}`).join("   ")}</span>
      </figcaption>
      <div ref={host} className="h-[170px]" />
    </figure>
  );
}

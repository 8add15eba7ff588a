import "uplot/dist/uPlot.min.css";
import { memo, useEffect, useMemo, useRef } from "react";
import uPlot from "uplot";
import { traceLine } from "../../ui/trace-lines";
import { useRun } from "./context";
import { withoutEngine } from "./engines";

const WINDOW = 90;

/** A pixel is a third of a second wide: lines drawn more often than this are work that nobody sees. Milliseconds. */
const REDRAW_EVERY = 200;

/** Strip traces of the last ninety seconds: core speed and gas temperature of every engine, with their limit bands. */
export default memo(function Traces() {
  const { panel } = useRun();
  // A strip makes its canvas anew when what it shows changes: the lists must stay the same ones.
  const strips = useMemo(
    () =>
      [".n2", ".egt"].map((family) => {
        const gauges = panel.gauges.filter((g) => g.signal.endsWith(family));
        return { signals: gauges.map((g) => g.signal), title: withoutEngine(gauges[0]?.label ?? family, panel.engines), min: gauges[0]?.min ?? 0, max: gauges[0]?.max ?? 100, limits: gauges[0]?.limits ?? [] };
      }),
    [panel],
  );
  return (
    <section aria-label="Traces" className="flex min-h-40 flex-1 flex-col gap-1 rounded-lg bg-panel p-2">
      {strips.map((s) => (
        <Strip key={s.title} {...s} />
      ))}
    </section>
  );
});

interface StripProps {
  signals: string[];
  title: string;
  min: number;
  max: number;
  limits: { at: number; kind: string; label: string }[];
}

// Asking the page for a colour costs more than drawing the line: asked once a theme.
const tokens = new Map<string, string>();
function token(name: string): string {
  const key = `${document.documentElement.dataset.theme}${name}`;
  let value = tokens.get(key);
  if (value === undefined) {
    value = getComputedStyle(document.documentElement).getPropertyValue(name).trim();
    tokens.set(key, value);
  }

  return value;
}

function Strip({ signals, title, min, max, limits }: StripProps) {
  const { connection, panel } = useRun();
  const host = useRef<HTMLDivElement>(null);
  const last = useRef<(HTMLElement | null)[]>([]);
  useEffect(() => {
    const box = host.current!;
    const plot = new uPlot(
      {
        width: box.clientWidth,
        height: box.clientHeight,
        legend: { show: false },
        cursor: { show: false },
        scales: { x: { time: false }, y: { range: [min, max] } },
        axes: [
          { stroke: () => token("--bone-2"), grid: { show: false }, ticks: { show: false }, size: 20, font: "10px B612", values: (_, at) => at.map((v) => `${Math.floor(v / 60)}:${String(Math.floor(v % 60)).padStart(2, "0")}`) },
          { stroke: () => token("--bone-2"), grid: { stroke: () => token("--soot-3"), width: 1 }, ticks: { show: false }, size: 38, font: "10px B612", values: (_, at) => at.map(String) },
        ],
        series: [{}, ...signals.map((_, i) => ({ stroke: () => token(traceLine(i).colour), width: 2, dash: traceLine(i).dash, points: { show: false } }))],
        hooks: {
          draw: [
            (u) => {
              for (const limit of limits) {
                const y = u.valToPos(limit.at, "y", true);
                u.ctx.strokeStyle = token(limit.kind === "warning" ? "--warning" : "--caution");
                u.ctx.lineWidth = 1;
                u.ctx.beginPath();
                u.ctx.moveTo(u.bbox.left, y);
                u.ctx.lineTo(u.bbox.left + u.bbox.width, y);
                u.ctx.stroke();
              }
            },
          ],
        },
      },
      [[], ...signals.map(() => [])],
      box,
    );
    let due = false;
    let drawn = -1;
    let drawnAt = -REDRAW_EVERY;
    let later = 0;
    const draw = () => {
      due = false;
      const { t, values } = connection.trace;
      const now = connection.time;
      let from = t.length;
      while (from > 0 && t[from - 1]! >= now - WINDOW) {
        from--;
      }

      // The numbers follow every frame, the lines in their own time.
      const rest = drawnAt + REDRAW_EVERY - performance.now();
      if (drawn !== t.at(-1) && rest > 0) {
        later ||= window.setTimeout(() => {
          later = 0;
          schedule();
        }, rest);
      } else if (drawn !== t.at(-1)) {
        drawn = t.at(-1) ?? -1;
        drawnAt = performance.now();
        plot.batch(() => {
          plot.setData([t.slice(from), ...signals.map((s) => (values.get(s) ?? []).slice(from))], false);
          plot.setScale("x", { min: Math.max(0, now - WINDOW), max: Math.max(WINDOW, now) });
        });
      }

      signals.forEach((s, i) => {
        const at = last.current[i];
        const text = String(Math.round(connection.value(s)));
        if (at && at.textContent !== text) {
          at.textContent = text;
        }
      });
    };
    const schedule = () => {
      if (!due) {
        due = true;
        requestAnimationFrame(draw);
      }
    };
    const off = connection.onSignal("time", schedule);
    const resize = new ResizeObserver(() => {
      plot.setSize({ width: box.clientWidth, height: box.clientHeight });
      schedule();
    });
    resize.observe(box);
    const themed = new MutationObserver(() => plot.redraw());
    themed.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
    return () => {
      off();
      window.clearTimeout(later);
      resize.disconnect();
      themed.disconnect();
      plot.destroy();
    };
  }, [connection, signals, min, max, limits]);
  return (
    <figure className="flex min-h-0 flex-1 flex-col">
      <figcaption className="flex justify-between text-2xs text-pale">
        <span>{title}</span>
        <span className="flex gap-3">
          {signals.map((s, i) => (
            <span key={s} className="num">
              {traceLine(i).mark} {panel.engines.find((e) => s.startsWith(`${e.id}.`))?.label.toLowerCase() ?? s}{" "}
              <b
                className="text-bone"
                ref={(e) => {
                  last.current[i] = e;
                }}
              />
            </span>
          ))}
        </span>
      </figcaption>
      <div ref={host} className="min-h-12 flex-1 overflow-hidden" />
    </figure>
  );
}

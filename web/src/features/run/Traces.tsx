import { memo, useEffect, useMemo, useRef } from "react";
import { makeStrip } from "../../ui/strip";
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
        return {
          signals: gauges.map((g) => g.signal),
          title: withoutEngine(gauges[0]?.label ?? family, panel.engines),
          min: gauges[0]?.min ?? 0,
          max: gauges[0]?.max ?? 100,
          limits: gauges[0]?.limits ?? [],
        };
      }),
    [panel],
  );
  return (
    <section aria-label="Traces" className="flex min-h-72 flex-1 flex-col lg:min-h-40 gap-1 rounded-lg bg-panel p-2">
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

function Strip({ signals, title, min, max, limits }: StripProps) {
  const { connection, panel } = useRun();
  const host = useRef<HTMLDivElement>(null);
  const last = useRef<(HTMLElement | null)[]>([]);
  useEffect(() => {
    const box = host.current!;
    const { plot, end } = makeStrip(box, {
      lines: signals.length,
      range: () => [min, max],
      gutter: 38,
      lineWidth: 2,
      draw: ({ level }) => limits.forEach((l) => level(l.at, l.kind === "warning" ? "--warning" : "--caution")),
      onResize: () => schedule(),
    });
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
    return () => {
      off();
      window.clearTimeout(later);
      end();
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

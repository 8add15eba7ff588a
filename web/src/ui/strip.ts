import "uplot/dist/uPlot.min.css";
import uPlot from "uplot";
import { clock } from "./format";
import { traceLine } from "./trace-lines";

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

/** A mark across a strip, in the colour of a token. */
export interface Marks {
  /** Across the whole width, at a value. */
  level: (at: number, colour: string) => void;
  /** At a moment: from so many pixels below the top down to the axis. */
  moment: (t: number, colour: string, from: number, width: number) => void;
  height: number;
}

interface Strip {
  lines: number;
  /** The range of the axis, from what the data spans. */
  range: (min: number, max: number) => [number, number];
  /** Room for the numbers at the left, px. */
  gutter: number;
  lineWidth: number;
  draw: (marks: Marks) => void;
  data?: uPlot.AlignedData;
  onResize?: () => void;
  /** A moment is picked by a press. */
  onPick?: (t: number) => void;
}

/** A strip trace over time that fills its box: what every trace of the application is drawn with. Returns the plot and what ends it. */
export function makeStrip(box: HTMLElement, { lines, range, gutter, lineWidth, draw, data, onResize, onPick }: Strip): { plot: uPlot; end: () => void } {
  const axis = (size: number, values: (at: number) => string, grid: boolean): uPlot.Axis => ({
    stroke: () => token("--bone-2"),
    grid: grid ? { stroke: () => token("--soot-3"), width: 1 } : { show: false },
    ticks: { show: false },
    size,
    font: "10px B612",
    values: (_, at) => at.map(values),
  });
  const plot = new uPlot(
    {
      width: box.clientWidth,
      height: box.clientHeight,
      legend: { show: false },
      cursor: onPick ? { y: false, points: { show: false }, drag: { x: false, y: false } } : { show: false },
      scales: { x: { time: false }, y: { range: (_, min, max) => range(min, max) } },
      axes: [axis(20, clock, false), axis(gutter, String, true)],
      series: [{}, ...Array.from({ length: lines }, (_, i) => ({ stroke: () => token(traceLine(i).colour), width: lineWidth, dash: traceLine(i).dash, points: { show: false } }))],
      hooks: {
        draw: [
          ({ ctx, bbox, valToPos }) => {
            const stroke = (colour: string, width: number, from: readonly [number, number], to: readonly [number, number]) => {
              ctx.strokeStyle = token(colour);
              ctx.setLineDash([]);
              ctx.lineWidth = width;
              ctx.beginPath();
              ctx.moveTo(...from);
              ctx.lineTo(...to);
              ctx.stroke();
            };
            draw({
              level: (at, colour) => {
                const y = valToPos(at, "y", true);
                stroke(colour, 1, [bbox.left, y], [bbox.left + bbox.width, y]);
              },
              moment: (t, colour, from, width) => {
                const x = valToPos(t, "x", true);
                stroke(colour, width, [x, bbox.top + from], [x, bbox.top + bbox.height]);
              },
              height: bbox.height,
            });
          },
        ],
      },
    },
    data ?? [[], ...Array.from({ length: lines }, () => [])],
    box,
  );
  if (onPick) {
    plot.over.addEventListener("click", () => onPick(Math.max(0, plot.posToVal(plot.cursor.left ?? 0, "x"))));
  }

  const resized = new ResizeObserver(() => {
    plot.setSize({ width: box.clientWidth, height: box.clientHeight });
    onResize?.();
  });
  resized.observe(box);
  const themed = new MutationObserver(() => plot.redraw());
  themed.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
  return {
    plot,
    end: () => {
      resized.disconnect();
      themed.disconnect();
      plot.destroy();
    },
  };
}

import type { LastChance, RelightEnvelope, Schemas } from "../api/client";

const W = 600;
const H = 420;
/** Room for the words in the region. */
const WORDS = 156;
const PAD = { left: 54, right: 14, top: 14, bottom: 34 };
const ROOM_FT = 2000;
const ROOM_KT = 20;
const TICKS = 5;
/** Strokes that tell one method's last chance from the next: no colour alone. */
const DASHES = ["", "9 4", "2 4"];

/** How long the strokes under a last chance are, and how far apart. */
const BARB = 5;
const BARB_APART = 14;

type Point = Schemas["FlightPoint"];

interface Props {
  label: string;
  /** Where restarts succeed today; undefined while it is being computed. */
  envelope?: RelightEnvelope | undefined;
  /** Of every method; undefined while they are being flown. */
  chances?: readonly LastChance[] | undefined;
  glideEasKt: number;
  maxEasKt: number;
  /** The highest that is to be seen. */
  highestFt: number;
  decisionFt: number;
  heights: readonly number[];
  speeds: readonly number[];
  /** Where it is, and where what is asked for leads. */
  now: Point;
  path?: readonly Point[] | undefined;
  /** The way of another flight. */
  beside?: { heights: readonly number[]; speeds: readonly number[] } | undefined;
  /** What stands under the axis of speed. */
  axis?: string;
  className?: string;
}

/** Height over airspeed: where fuel brings a core to idle, each method's last chance, the decision height, the way flown and the way ahead. */
export function FlightPlot({
  label,
  envelope,
  chances = [],
  glideEasKt,
  maxEasKt,
  highestFt,
  decisionFt,
  heights,
  speeds,
  now,
  path = [],
  beside,
  axis = "kt EAS",
  className = "",
}: Props) {
  const glide = envelope?.glideEasKt ?? glideEasKt;
  const slowest = 0.7 * glideEasKt;
  const fastest = maxEasKt + ROOM_KT;
  const highest = highestFt + ROOM_FT;
  const x = (kt: number) => PAD.left + ((Math.min(fastest, Math.max(slowest, kt)) - slowest) / (fastest - slowest)) * (W - PAD.left - PAD.right);
  const y = (ft: number) => H - PAD.bottom - (Math.min(highest, Math.max(0, ft)) / highest) * (H - PAD.top - PAD.bottom);
  const line = (points: readonly Point[]) => points.map((p) => `${x(p.easKt).toFixed(1)},${y(p.heightFt).toFixed(1)}`).join(" ");
  const way = (ft: readonly number[], kt: readonly number[]) => ft.map((h, i) => `${x(kt[i] ?? 0).toFixed(1)},${y(h).toFixed(1)}`).join(" ");
  const edges = envelope?.windmill ?? [];
  const outline = [...edges.map((p) => [p.easKt, p.topFt] as const), ...[...edges].reverse().map((p) => [p.easKt, p.floorFt] as const)];
  const crown = edges.reduce((best, p) => (p.topFt > (best?.topFt ?? 0) ? p : best), edges[0]);
  const lines = chances.filter((c) => c.points.length > 1);
  // Its words stand over the line where the decision height would run through them.
  const crossed = envelope?.ceilingFt != null && Math.abs(y(decisionFt) - y(envelope.ceilingFt) - 9) < 12;
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className={className} role="img" aria-label={label}>
      {ticks(highest, 5000).map((ft) => (
        <g key={ft}>
          <path d={`M${PAD.left} ${y(ft)}H${W - PAD.right}`} className="stroke-high" strokeWidth="1" />
          <text x={PAD.left - 6} y={y(ft) + 4} textAnchor="end" className="num fill-pale text-[11px]">
            {ft / 1000}k
          </text>
        </g>
      ))}
      {ticks(fastest, fastest - slowest > 250 ? 100 : 50)
        .filter((kt) => kt >= slowest)
        .map((kt) => (
          <text key={kt} x={x(kt)} y={H - 16} textAnchor="middle" className="num fill-pale text-[11px]">
            {kt}
          </text>
        ))}
      <text x={W - PAD.right} y={H - 2} textAnchor="end" className="fill-pale text-[11px]">
        {axis}
      </text>
      {outline.length > 2 && (
        <path
          d={`M${outline.map(([kt, ft]) => `${x(kt).toFixed(1)} ${y(ft).toFixed(1)}`).join("L")}Z`}
          data-testid="envelope"
          className="fill-band stroke-ready"
          strokeWidth="1.5"
          strokeLinejoin="round"
        />
      )}
      {crown && (
        <text x={Math.max(x(edges[0]!.easKt) + 4, Math.min(x(crown.easKt) + 6, x(edges.at(-1)!.easKt) - WORDS))} y={y(crown.topFt) + 16} className="fill-ready text-[11px]">
          fuel here, speed held: idle
        </text>
      )}
      {envelope?.ceilingFt != null && (
        <>
          <path d={`M${PAD.left} ${y(envelope.ceilingFt)}H${x(slowest + 0.32 * (fastest - slowest))}`} className="stroke-advisory" strokeDasharray="6 4" />
          <text x={PAD.left + 4} y={y(envelope.ceilingFt) + (crossed ? -5 : 13)} className="fill-advisory text-[11px]">
            start air below
          </text>
        </>
      )}
      {lines.map((c, i) => (
        <g key={c.id} data-chance={c.id}>
          <polyline points={line(c.points)} fill="none" className="stroke-caution" strokeWidth="1.5" strokeDasharray={DASHES[i % DASHES.length]} />
          <path d={barbs(c.points.map((p) => [x(p.easKt), y(p.heightFt)] as const))} className="stroke-caution" strokeWidth="1" opacity="0.6" />
          <path d={`M${PAD.left + 6} ${H - PAD.bottom - 12 - 15 * i}h26`} className="stroke-caution" strokeWidth="1.5" strokeDasharray={DASHES[i % DASHES.length]} />
          <text x={PAD.left + 38} y={H - PAD.bottom - 8 - 15 * i} className="fill-caution text-[11px]">
            last chance, lower is too late: {c.label.toLowerCase()}
          </text>
        </g>
      ))}
      <path d={`M${PAD.left} ${y(decisionFt)}H${W - PAD.right}`} className="stroke-warning" strokeWidth="2" />
      <text x={W - PAD.right - 4} y={y(decisionFt) + 14} textAnchor="end" className="fill-warning text-[11px]">
        decision height: below it, leave
      </text>
      <path d={`M${x(glide)} ${PAD.top}V${H - PAD.bottom}`} className="stroke-line" strokeDasharray="2 5" />
      <text x={x(glide) + 4} y={PAD.top + 10} className="fill-pale text-[11px]">
        best glide
      </text>
      {path.length > 1 && (
        <polyline
          data-testid="path"
          points={line(path.filter((p) => p.easKt <= fastest))}
          fill="none"
          className="stroke-heather"
          strokeWidth="2"
          strokeDasharray="1 5"
          strokeLinecap="round"
        />
      )}
      {beside && <polyline data-testid="beside-trail" points={way(beside.heights, beside.speeds)} fill="none" className="stroke-pale" strokeWidth="1.5" strokeDasharray="7 3" />}
      <polyline points={way(heights, speeds)} fill="none" className="stroke-bone" strokeWidth="1.5" opacity="0.7" />
      <circle cx={x(now.easKt)} cy={y(now.heightFt)} r="6" className="fill-bone" />
    </svg>
  );
}

/** Short strokes under a line: the side on which it is too late. */
function barbs(points: readonly (readonly [number, number])[]): string {
  const path: string[] = [];
  let due = BARB_APART / 2;
  points.slice(1).forEach(([bx, by], i) => {
    const [ax, ay] = points[i] ?? [bx, by];
    const length = Math.hypot(bx - ax, by - ay);
    for (; due <= length; due += BARB_APART) {
      const share = due / length;
      path.push(`M${(ax + share * (bx - ax)).toFixed(1)} ${(ay + share * (by - ay)).toFixed(1)}l-3 ${BARB}`);
    }

    due -= length;
  });
  return path.join("");
}

function ticks(to: number, step: number): number[] {
  const wide = to / step > 2 * TICKS ? 2 * step : step;
  return Array.from({ length: Math.floor(to / wide) + 1 }, (_, i) => i * wide);
}

/** Whether fuel now brings it to idle: between two computed speeds the edges are straight lines. */
export function isInside(envelope: RelightEnvelope, kt: number, ft: number): boolean {
  const at = envelope.windmill.findIndex((p) => p.easKt >= kt);
  const [a, b] = [envelope.windmill[at - 1], envelope.windmill[at]];
  if (!b || !a) {
    return b !== undefined && b.easKt === kt && ft <= b.topFt && ft >= b.floorFt;
  }

  const share = (kt - a.easKt) / (b.easKt - a.easKt);
  const between = (from: number, to: number) => from + share * (to - from);
  return ft <= between(a.topFt, b.topFt) && ft >= between(a.floorFt, b.floorFt);
}

import { useQuery } from "@tanstack/react-query";
import { api, type RelightEnvelope } from "../../api/client";
import { number } from "../../ui/format";
import { useRun, useSignal } from "../run/context";

const W = 600;
const H = 420;
const PAD = { left: 54, right: 14, top: 14, bottom: 34 };
const ROOM_FT = 2000;
const ROOM_KT = 20;
const TICKS = 5;

/** Height over airspeed: where a windmill restart succeeds today, the decision height, the ground, our dot and its trail. */
export function EnergyPlot({ dead }: { dead: string }) {
  const { connection, panel } = useRun();
  useSignal("time");
  const envelope = useQuery({ queryKey: ["relight-envelope", connection.id], queryFn: ({ signal }) => api.relightEnvelope(connection.id, signal), staleTime: Infinity }).data;
  const height = connection.value("flight.height");
  const speed = connection.value("flight.eas");
  const above = connection.value("flight.above-decision");
  const lit = connection.value(`${dead}.lit`) > 0.5;
  const burnt = connection.value(`fire.${dead}.had`) > 0.5;
  const sink = -connection.value("flight.vertical-speed") / 60;
  const heights = connection.trace.values.get("flight.height") ?? [];
  const speeds = connection.trace.values.get("flight.eas") ?? [];
  const e = panel.envelope;
  const slowest = 0.7 * e.glideEasKt;
  const fastest = e.maxEasKt + ROOM_KT;
  const highest = Math.max(e.maxAltitudeFt, connection.snapshot!.header.flight?.heightFt ?? 0) + ROOM_FT;
  const x = (kt: number) => PAD.left + ((Math.min(fastest, Math.max(slowest, kt)) - slowest) / (fastest - slowest)) * (W - PAD.left - PAD.right);
  const y = (ft: number) => H - PAD.bottom - (Math.min(highest, Math.max(0, ft)) / highest) * (H - PAD.top - PAD.bottom);
  const decision = height - above;
  const trail = heights.map((h, i) => `${x(speeds[i] ?? 0).toFixed(1)},${y(h).toFixed(1)}`).join(" ");
  const inside = envelope ? isInside(envelope, speed, height) : false;
  const edges = envelope?.windmill ?? [];
  const outline = [...edges.map((p) => [p.easKt, p.topFt] as const), ...[...edges].reverse().map((p) => [p.easKt, p.floorFt] as const)];
  const crown = edges.reduce((best, p) => (p.topFt > (best?.topFt ?? 0) ? p : best), edges[0]);
  return (
    <section aria-label="Height and speed" className="flex min-h-64 flex-1 flex-col rounded-lg bg-panel p-2">
      <div className="flex justify-between px-1 text-sm">
        <span className="num" data-testid="height">
          {number(height, 10)} <span className="text-2xs text-pale">ft</span>
        </span>
        <span className="num">
          {number(speed, 1)} <span className="text-2xs text-pale">kt</span>
        </span>
        <span className="num">
          {above > 0 && sink > 1 ? Math.round(above / sink) : "–"} <span className="text-2xs text-pale">s to the decision height</span>
        </span>
        <span className={burnt ? "text-pale" : lit ? "text-ready" : inside ? "text-advisory" : "text-pale"} data-testid="envelope-word">
          {burnt ? "it burnt: not started again" : lit ? "✓ lit" : inside ? "◆ fuel now: it comes to idle" : "fuel now: it will not start"}
        </span>
      </div>
      <svg viewBox={`0 0 ${W} ${H}`} className="min-h-0 w-full flex-1" role="img" aria-label={`Height ${Math.round(height)} feet, speed ${Math.round(speed)} knots`}>
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
          kt EAS
        </text>
        {outline.length > 2 && (
          <path d={`M${outline.map(([kt, ft]) => `${x(kt).toFixed(1)} ${y(ft).toFixed(1)}`).join("L")}Z`} data-testid="envelope" className="fill-band stroke-ready" strokeWidth="1.5" strokeLinejoin="round" />
        )}
        {crown && (
          <text x={Math.min(x(crown.easKt) + 6, W - PAD.right - 215)} y={y(crown.topFt) + 16} className="fill-ready text-[11px]">
            fuel here, speed held: idle
          </text>
        )}
        {envelope?.ceilingFt != null && (
          <>
            <path d={`M${PAD.left} ${y(envelope.ceilingFt)}H${x(slowest + 0.32 * (fastest - slowest))}`} className="stroke-advisory" strokeDasharray="6 4" />
            <text x={PAD.left + 4} y={y(envelope.ceilingFt) + 13} className="fill-advisory text-[11px]">
              start air below
            </text>
          </>
        )}
        <path d={`M${PAD.left} ${y(decision)}H${W - PAD.right}`} className="stroke-warning" strokeWidth="2" />
        <text x={W - PAD.right - 4} y={y(decision) + 14} textAnchor="end" className="fill-warning text-[11px]">
          decision height: below it, leave
        </text>
        <path d={`M${x(envelope?.glideEasKt ?? e.glideEasKt)} ${PAD.top}V${H - PAD.bottom}`} className="stroke-line" strokeDasharray="2 5" />
        <text x={x(envelope?.glideEasKt ?? e.glideEasKt) + 4} y={PAD.top + 10} className="fill-pale text-[11px]">
          best glide
        </text>
        <polyline points={trail} fill="none" className="stroke-bone" strokeWidth="1.5" opacity="0.7" />
        <circle cx={x(speed)} cy={y(height)} r="6" className="fill-bone" />
      </svg>
    </section>
  );
}

function ticks(to: number, step: number): number[] {
  const wide = to / step > 2 * TICKS ? 2 * step : step;
  return Array.from({ length: Math.floor(to / wide) + 1 }, (_, i) => i * wide);
}

/** Between two computed speeds the edges are straight lines. */
function isInside(envelope: RelightEnvelope, kt: number, ft: number): boolean {
  const at = envelope.windmill.findIndex((p) => p.easKt >= kt);
  const [a, b] = [envelope.windmill[at - 1], envelope.windmill[at]];
  if (!b || !a) {
    return b !== undefined && b.easKt === kt && ft <= b.topFt && ft >= b.floorFt;
  }

  const share = (kt - a.easKt) / (b.easKt - a.easKt);
  const between = (from: number, to: number) => from + share * (to - from);
  return ft <= between(a.topFt, b.topFt) && ft >= between(a.floorFt, b.floorFt);
}

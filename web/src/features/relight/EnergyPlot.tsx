import { useRun, useSignal } from "../run/context";
import { number } from "../../ui/format";

const W = 600;
const H = 420;
const PAD = { left: 54, right: 14, top: 14, bottom: 34 };
const SPEED = [120, 540] as const;
const TOP_FT = 32000;

/** Height over airspeed: the windmill envelope, the decision height, the ground, our dot and its trail. */
export function EnergyPlot({ dead }: { dead: string }) {
  const { connection, panel } = useRun();
  useSignal("time");
  const e = panel.envelope;
  const x = (kt: number) => PAD.left + ((Math.min(SPEED[1], Math.max(SPEED[0], kt)) - SPEED[0]) / (SPEED[1] - SPEED[0])) * (W - PAD.left - PAD.right);
  const y = (ft: number) => H - PAD.bottom - (Math.min(TOP_FT, Math.max(0, ft)) / TOP_FT) * (H - PAD.top - PAD.bottom);
  const height = connection.value("flight.height");
  const speed = connection.value("flight.eas");
  const above = connection.value("flight.above-decision");
  const decision = height - above;
  const heights = connection.trace.values.get("flight.height") ?? [];
  const speeds = connection.trace.values.get("flight.eas") ?? [];
  const trail = heights.map((h, i) => `${x(speeds[i] ?? 0).toFixed(1)},${y(h).toFixed(1)}`).join(" ");
  const lit = connection.value(`${dead}.lit`) > 0.5;
  const inside = speed >= e.minEasKt && speed <= e.maxEasKt && height <= e.maxAltitudeFt;
  const sink = -connection.value("flight.vertical-speed") / 60;
  return (
    <section aria-label="Height and speed" className="flex min-h-0 flex-1 flex-col rounded-lg bg-panel p-2">
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
        <span className={lit ? "text-ready" : inside ? "text-advisory" : "text-pale"} data-testid="envelope-word">
          {lit ? "✓ lit" : inside ? "◆ inside the envelope" : "outside the envelope"}
        </span>
      </div>
      <svg viewBox={`0 0 ${W} ${H}`} className="min-h-0 w-full flex-1" role="img" aria-label={`Height ${Math.round(height)} feet, speed ${Math.round(speed)} knots`}>
        {[0, 10000, 20000, 30000].map((ft) => (
          <g key={ft}>
            <path d={`M${PAD.left} ${y(ft)}H${W - PAD.right}`} className="stroke-high" strokeWidth="1" />
            <text x={PAD.left - 6} y={y(ft) + 4} textAnchor="end" className="num fill-pale text-[11px]">
              {ft / 1000}k
            </text>
          </g>
        ))}
        {[200, 300, 400, 500].map((kt) => (
          <text key={kt} x={x(kt)} y={H - 16} textAnchor="middle" className="num fill-pale text-[11px]">
            {kt}
          </text>
        ))}
        <text x={W - PAD.right} y={H - 2} textAnchor="end" className="fill-pale text-[11px]">
          kt EAS
        </text>
        <rect x={x(e.minEasKt)} y={y(e.maxAltitudeFt)} width={x(e.maxEasKt) - x(e.minEasKt)} height={y(decision) - y(e.maxAltitudeFt)} className="fill-band stroke-ready" strokeDasharray="5 4" />
        <text x={x(e.minEasKt) + 8} y={y(e.maxAltitudeFt) + 16} className="fill-ready text-[11px]">
          windmill restart
        </text>
        <path d={`M${PAD.left} ${y(decision)}H${W - PAD.right}`} className="stroke-warning" strokeWidth="2" />
        <text x={W - PAD.right - 4} y={y(decision) - 6} textAnchor="end" className="fill-warning text-[11px]">
          decision height: below it, leave
        </text>
        <path d={`M${x(e.glideEasKt)} ${PAD.top}V${H - PAD.bottom}`} className="stroke-line" strokeDasharray="2 5" />
        <text x={x(e.glideEasKt) + 4} y={PAD.top + 10} className="fill-pale text-[11px]">
          best glide
        </text>
        <polyline points={trail} fill="none" className="stroke-bone" strokeWidth="1.5" opacity="0.7" />
        <circle cx={x(speed)} cy={y(height)} r="6" className="fill-bone" />
      </svg>
    </section>
  );
}

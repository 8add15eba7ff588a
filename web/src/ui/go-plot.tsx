import type { GoOrWait } from "../api/client";
import { clock, number } from "./format";

const WIDTH = 600;
const HEIGHT = 120;
const TICKS_NM = [0.1, 0.3, 1, 3, 10, 30, 100];

/** The error at the end of the leg against the moment of going; what came of it as a ring, where the leg has been flown on. */
export function GoPlot({ answer, aligned, sentence = answer.sentence, cameNm }: { answer: GoOrWait; aligned: number; sentence?: string; cameNm?: number }) {
  const { curve, leg, earliestS, nowNm } = answer;
  const last = curve[curve.length - 1]!;
  const span = last.alignedS - earliestS;
  // The error falls to a fiftieth: equal heights are equal ratios.
  const [least, most] = [Math.min(last.errorNm, leg.markNm, cameNm ?? leg.markNm) / 1.4, Math.max(curve[0]!.errorNm, leg.markNm) * 1.2];
  const x = (s: number) => (Math.max(0, Math.min(1, (s - earliestS) / span)) * WIDTH).toFixed(1);
  const y = (nm: number) => (HEIGHT * (1 - Math.log(nm / least) / Math.log(most / least))).toFixed(1);
  const at = (nm: number) => `${(100 * Number(y(nm))) / HEIGHT}%`;
  const ticks = TICKS_NM.filter((nm) => nm > least * 1.1 && nm < most / 1.6 && Math.abs(Math.log(nm / leg.markNm)) > 0.6);
  const line = curve.map((p, i) => `${i === 0 ? "M" : "L"}${x(p.alignedS)} ${y(p.errorNm)}`).join("");
  const shownNm = aligned > 0 ? nowNm : null;
  return (
    <figure data-testid="go-or-wait" data-taken={answer.taken} className="flex flex-col gap-1.5">
      <figcaption data-testid="go-sentence" className="text-sm">
        {sentence}
      </figcaption>
      <div className="relative">
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="h-18 w-full rounded bg-raised"
          role="img"
          aria-label={`Position error after the leg against the moment of going: ${curve.map((p) => `${clock(p.alignedS)} ${number(p.errorNm, 0.01)} NM`).join(", ")}`}
        >
          {curve
            .filter((_, i) => i % 2 === 0 && i > 0)
            .map((p) => (
              <path key={p.alignedS} d={`M${x(p.alignedS)} 0V${HEIGHT}`} className="stroke-line" vectorEffect="non-scaling-stroke" />
            ))}
          {ticks.map((nm) => (
            <path key={nm} d={`M0 ${y(nm)}H${WIDTH}`} className="stroke-line" vectorEffect="non-scaling-stroke" />
          ))}
          <path d={`M0 ${y(leg.markNm)}H${WIDTH}`} className="stroke-pale" strokeDasharray="5 4" vectorEffect="non-scaling-stroke" />
          <path d={line} fill="none" className="stroke-bone" strokeWidth="2" vectorEffect="non-scaling-stroke" />
          {aligned > 0 && <path d={`M${x(aligned)} 0V${HEIGHT}`} className="stroke-heather" strokeWidth="2" vectorEffect="non-scaling-stroke" />}
        </svg>
        {ticks.map((nm) => (
          <span key={nm} className="num absolute left-1 -translate-y-full rounded bg-raised px-0.5 text-2xs leading-tight text-pale" style={{ top: at(nm) }}>
            {nm} NM
          </span>
        ))}
        <span className="num absolute right-1 -translate-y-full text-2xs leading-tight" style={{ top: at(leg.markNm) }}>
          can bear {number(leg.markNm, 0.01)} NM
        </span>
        {shownNm !== null && (
          <span
            className="absolute size-2.5 -translate-x-1/2 -translate-y-1/2 rounded-full bg-heather"
            style={{ left: `${(100 * Number(x(aligned))) / WIDTH}%`, top: at(shownNm) }}
          />
        )}
        {cameNm !== undefined && (
          <span
            className="absolute size-3 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-bone"
            style={{ left: `${(100 * Number(x(aligned))) / WIDTH}%`, top: at(cameNm) }}
          />
        )}
      </div>
      <p className="flex justify-between text-2xs text-pale">
        <span className="num">{clock(earliestS)} at the earliest</span>
        <span className="num" data-testid="go-now">
          {shownNm !== null && `● ${answer.taken ? "taken at" : "now"} ${clock(aligned)}: ${number(shownNm, 0.01)} NM`}
        </span>
        <span className="num">
          {clock(last.alignedS)}: {number(last.errorNm, 0.01)} NM
        </span>
      </p>
      <p className="text-2xs text-pale">
        Typical error at the destination: <span className="num">{number(leg.lengthNm, 1)}</span> NM in <span className="num">{number(leg.minutes, 1)}</span> min.
        {cameNm !== undefined && <> ○ is what came.</>}
      </p>
    </figure>
  );
}

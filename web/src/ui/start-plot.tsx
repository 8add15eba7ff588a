interface Props {
  flown: { t: number[]; gas: number[] };
  /** Five points a second from the crank on. */
  expected: readonly number[];
  /** The same start of another run. */
  beside?: { t: number[]; gas: number[] } | undefined;
  limit: number;
  max: number;
}

const WIDTH = 600;
const HEIGHT = 110;
const HZ = 5;

/** Gas temperature over the seconds since the crank: flown against expected, under the limit. */
export function StartPlot({ flown, expected, beside, limit, max }: Props) {
  const span = Math.max(40, Math.min(70, flown.t.at(-1) ?? 0));
  const x = (t: number) => ((t / span) * WIDTH).toFixed(1);
  const y = (c: number) => (HEIGHT - (Math.max(0, c) / max) * HEIGHT).toFixed(1);
  const line = (points: (readonly [number, number])[]) =>
    points
      .filter(([t]) => t <= span)
      .map(([t, c], i) => `${i === 0 ? "M" : "L"}${x(t)} ${y(c)}`)
      .join("");
  return (
    <figure className="shrink-0">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="h-16 w-full rounded bg-raised"
        role="img"
        aria-label="Gas temperature over time, flown and expected"
      >
        {Array.from({ length: Math.floor(span / 10) }, (_, i) => (
          <path key={i} d={`M${x((i + 1) * 10)} 0V${HEIGHT}`} className="stroke-line" vectorEffect="non-scaling-stroke" />
        ))}
        <path d={`M0 ${y(limit)}H${WIDTH}`} className="stroke-warning" vectorEffect="non-scaling-stroke" />
        <path
          d={line(expected.map((c, i) => [i / HZ, c] as const))}
          fill="none"
          className="stroke-pale"
          strokeDasharray="5 4"
          strokeWidth="1.5"
          vectorEffect="non-scaling-stroke"
        />
        {beside && (
          <path
            data-testid="beside-start"
            d={line(beside.t.map((t, i) => [t, beside.gas[i] ?? 0] as const))}
            fill="none"
            className="stroke-advisory"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        )}
        <path d={line(flown.t.map((t, i) => [t, flown.gas[i] ?? 0] as const))} fill="none" className="stroke-bone" strokeWidth="2" vectorEffect="non-scaling-stroke" />
      </svg>
      <figcaption className="flex justify-between text-2xs text-pale">
        <span>
          ━ flown ╌ expected by the book today{beside && " "}
          {beside && <span className="text-advisory">━ the other run</span>}
        </span>
        <span className="num">
          {Math.round(span)} s from the crank · limit {Math.round(limit)} °C
        </span>
      </figcaption>
    </figure>
  );
}

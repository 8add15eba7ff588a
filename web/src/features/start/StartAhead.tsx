import { useQuery } from "@tanstack/react-query";
import type { StartOutlook } from "../../api/client";
import { api, type RunHeader } from "../../api/client";
import { Button } from "../../ui/button";
import { clock, number } from "../../ui/format";
import { Shape, type Status } from "../../ui/status";
import { useRun } from "../run/context";

const severities: Record<string, Status> = { note: "ready", caution: "caution", warning: "warning", damage: "warning" };

/** The start before it is made, for a situation that has not begun. */
export function SituationAhead({ header, ok }: { header: RunHeader; ok: boolean }) {
  const outlook = useQuery({ queryKey: ["start-outlook", JSON.stringify(header)], queryFn: ({ signal }) => api.startOutlook(header, signal), enabled: ok, retry: false, placeholderData: (p) => p });
  return outlook.data ? <OutlookTable outlook={outlook.data} busy={outlook.isFetching} /> : <p className="text-xs text-pale">{outlook.error ? outlook.error.message : "Running every choice ahead…"}</p>;
}

/** The same from the middle of a run: it takes what has been done so far into account, and is run anew at each look. */
export function RunAhead() {
  const { connection } = useRun();
  const outlook = useQuery({ queryKey: ["run-outlook", connection.id], queryFn: () => api.runStartOutlook(connection.id), retry: false, gcTime: 0, staleTime: Infinity });
  return (
    <div data-testid="run-ahead">
      {outlook.error && <p className="text-xs text-caution">▲ {outlook.error.message}</p>}
      {outlook.data ? <OutlookTable outlook={outlook.data} busy={outlook.isFetching} /> : <p className="text-xs text-pale">Running every choice ahead from this moment…</p>}
      <Button size="small" look="quiet" className="mt-2" onClick={() => void outlook.refetch()} disabled={outlook.isFetching}>
        {outlook.isFetching ? "Running ahead…" : "Look again"}
      </Button>
    </div>
  );
}

function OutlookTable({ outlook, busy }: { outlook: StartOutlook; busy: boolean }) {
  const planned = outlook.asPlanned;
  const rows = [{ label: "As planned", figures: planned, givesUp: [] as string[] }, ...outlook.options];
  const difference = (x: number | null | undefined, to: number | null | undefined, unit: string) => {
    const d = x === null || x === undefined || to === null || to === undefined ? 0 : Math.round(x - to);
    return d === 0 ? "" : `${d > 0 ? "+" : "−"}${Math.abs(d)}${unit}`;
  };
  return (
    <div className="mt-2 text-xs" aria-busy={busy} data-testid="outlook">
      <p className="mb-1.5 flex gap-1.5 text-sm" data-testid="recommendation">
        <Shape status={severities[outlook.advice.severity] ?? "ready"} />
        <span>{outlook.advice.text}</span>
      </p>
      {planned.battery && <BatteryLine battery={planned.battery} />}
      <table className="w-full">
        <thead className="text-2xs text-pale">
          <tr>
            <th className="text-left font-normal">What each choice costs</th>
            <th className="text-right font-normal">ready</th>
            <th className="pl-2 text-right font-normal whitespace-nowrap">peak °C</th>
            <th className="pl-2 text-right font-normal whitespace-nowrap">starter s</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <tr key={r.label} className="border-t border-line align-baseline">
              <td className="py-0.5 pr-2">
                {r.label}
                {r.givesUp.length > 0 && <GivesUp checks={r.givesUp} />}
              </td>
              <td className="num text-right whitespace-nowrap">
                {r.figures.readyS === null || r.figures.readyS === undefined ? "never" : i === 0 ? clock(r.figures.readyS) : difference(r.figures.readyS, planned.readyS, " s") || "same"}
              </td>
              <td className={`num pl-2 text-right whitespace-nowrap ${r.figures.marginC < 0 ? "text-warning" : ""}`}>
                {number(r.figures.peakC, 1)} <span className="text-2xs text-pale">{i > 0 && difference(r.figures.peakC, planned.peakC, "")}</span>
              </td>
              <td className="num pl-2 text-right whitespace-nowrap">{i === 0 ? Math.round(r.figures.starterS) : difference(r.figures.starterS, planned.starterS, " s") || "same"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What the battery has and what this start asks of it. */
function BatteryLine({ battery }: { battery: NonNullable<StartOutlook["asPlanned"]["battery"]> }) {
  const minutes = (s: number) => Math.max(1, Math.round(s / 60));
  const short = battery.fellOut || battery.attempts < 2 || battery.lastsS < 1.5 * battery.neededS;
  return (
    <p className="mb-1.5 flex gap-1.5 text-sm" data-testid="battery-line">
      <Shape status={short ? "caution" : "ready"} />
      <span className="num">
        Battery: {minutes(battery.lastsS)} min, you need {minutes(battery.neededS)} ({battery.attempts === 1 ? "1 attempt" : `${battery.attempts} attempts`})
      </span>
    </p>
  );
}

/** What a shorter list leaves out, each check with what it would have shown. */
function GivesUp({ checks }: { checks: readonly string[] }) {
  return (
    <details className="text-2xs text-pale" data-testid="gives-up">
      <summary className="cursor-pointer">{checks.length === 1 ? "gives up one check" : `gives up ${checks.length} checks`}</summary>
      <ul className="list-disc pl-4">
        {checks.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
    </details>
  );
}

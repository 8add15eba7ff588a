import { useQuery } from "@tanstack/react-query";
import { api, type StartOutlook } from "../../api/client";
import { Button } from "../../ui/button";
import { clock, difference, number } from "../../ui/format";
import { GivesUp, OutlookWords } from "../../ui/start-outlook";
import { useRun } from "../run/context";

/** The start before it is made, from the middle of a run: it takes what has been done so far into account, and is run anew at each look. */
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

/** What every choice that is left would cost, under what is planned. */
function OutlookTable({ outlook, busy }: { outlook: StartOutlook; busy: boolean }) {
  const planned = outlook.asPlanned;
  const rows = [{ label: "As planned", figures: planned, givesUp: [] as string[] }, ...outlook.options];
  return (
    <div className="mt-2 text-xs" aria-busy={busy} data-testid="outlook">
      <OutlookWords outlook={outlook} />
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
                {r.figures.readyS === null || r.figures.readyS === undefined
                  ? "never"
                  : i === 0
                    ? clock(r.figures.readyS)
                    : difference(r.figures.readyS, planned.readyS, " s") || "same"}
              </td>
              <td className={`num pl-2 text-right whitespace-nowrap ${r.figures.marginC < 0 ? "text-warning" : ""}`}>
                {number(r.figures.peakC, 1)} <span className="text-2xs text-pale">{i > 0 && difference(r.figures.peakC, planned.peakC, "")}</span>
              </td>
              <td className="num pl-2 text-right whitespace-nowrap">
                {i === 0 ? Math.round(r.figures.starterS) : difference(r.figures.starterS, planned.starterS, " s") || "same"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

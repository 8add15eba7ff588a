import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { clock } from "../../ui/format";
import { Shape } from "../../ui/status";
import { useRun } from "../run/context";

/** What the windmill method costs from where this run began: the simulator flown ahead by a steady pilot. */
export function HeightCosts() {
  const { connection } = useRun();
  const header = connection.snapshot!.header;
  const forecast = useQuery({ queryKey: ["height-costs", connection.id], queryFn: ({ signal }) => api.forecast(header, signal), staleTime: Infinity });
  const f = forecast.data;
  if (!f) {
    return null;
  }

  const restarted = f.summary.verdict === "launch-ready" || f.summary.verdict === "ready-with-defects";
  return (
    <section aria-label="Height costs" className="mt-auto border-t border-line pt-2 text-xs">
      <h2 className="mb-1 text-pale">Windmill restart from {header.flight?.heightFt} ft, flown by a steady pilot</h2>
      <dl className="grid grid-cols-[1fr_auto] gap-y-1">
        <dt>Lit after</dt>
        <dd className="num text-right">{f.summary.milestones.light ? clock(f.summary.milestones.light) : "never"}</dd>
        <dt>Height it costs</dt>
        <dd className="num text-right">{f.heightLostFt} ft</dd>
        <dt>Left above the decision height</dt>
        <dd className="num flex items-center justify-end gap-1">
          <Shape status={f.aboveDecisionFt > 0 && restarted ? "ready" : "warning"} />
          {f.aboveDecisionFt} ft
        </dd>
      </dl>
    </section>
  );
}

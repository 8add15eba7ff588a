import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { api, type RunHeader } from "../../api/client";
import { MethodTable } from "../../ui/method-table";
import { GoPlot } from "../../ui/go-plot";
import { Shape, type Status } from "../../ui/status";
import { SituationAhead } from "../start/StartAhead";
import { useSettled } from "./use-settled";

/** What today's situation changes: the numbers for the card, and the simulator run ahead with a steady pilot. */
export function Outlook({ header, ok }: { header: RunHeader; ok: boolean }) {
  const key = useSettled(JSON.stringify({ ...header, pilot: "", mode: "guided" }), 350);
  const settled = useDeferredValue(key);
  const body = JSON.parse(settled) as RunHeader;
  const preview = useQuery({ queryKey: ["preview", settled], queryFn: () => api.preview(body), enabled: ok, retry: false, placeholderData: (p) => p });
  const forecast = useQuery({ queryKey: ["forecast", settled], queryFn: ({ signal }) => api.forecast(body, signal), enabled: ok && body.start === "air", retry: false, placeholderData: (p) => p });
  const relight = useQuery({ queryKey: ["relight-outlook", settled], queryFn: ({ signal }) => api.relightOutlook(body, signal), enabled: ok && body.start === "air", retry: false, placeholderData: (p) => p });
  const error = preview.error ?? forecast.error;
  if (error) {
    return (
      <section className="rounded-lg bg-panel p-4 text-sm text-caution">
        ▲ {error.message}
      </section>
    );
  }

  const p = preview.data;
  const f = forecast.data;
  const peak = f ? Math.max(...Object.values(f.summary.peakC)) : 0;
  const margin = f ? f.startLimitC - peak : 0;
  const air = header.start === "air";
  const restarts = air && header.flight?.dead !== "none";
  const heat: Status = margin < 0 ? "warning" : margin < 60 ? "caution" : "ready";
  return (
    <section aria-label="Outlook" className="rounded-lg bg-panel p-4 text-sm">
      <h2 className="font-bold">What today changes</h2>
      <p className="mb-2 text-2xs text-pale">The simulator run ahead on this situation with a steady pilot.</p>
      {air && !restarts && <p>Everything runs: there is nothing to look ahead to.</p>}
      {restarts && f && (
        <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
          <Row label="Outcome" value={f.summary.verdict === "launch-ready" ? "restarted" : "not restarted"} />
          <Row label="Hottest start" value={`${peak} °C`} status={heat} />
          <Row label="Margin to the start limit" value={`${margin} °C`} status={heat} />
          <Row label="Height it costs" value={`${f.heightLostFt} ft`} />
          <Row label="Left above decision height" value={`${f.aboveDecisionFt} ft`} status={f.aboveDecisionFt < 0 ? "warning" : "ready"} />
        </dl>
      )}
      {restarts && relight.data && (
        <div className="mt-3 border-t border-line pt-2">
          <MethodTable outlook={relight.data} />
        </div>
      )}
      {air && f && f.summary.verdict !== "launch-ready" && <p className="mt-2 text-xs text-caution">▲ {f.summary.sentence}</p>}
      {!air && <SituationAhead header={body} ok={ok} />}
      {p && !air && (
        <>
          <h3 className="mt-4 mb-1 font-bold">The card</h3>
          <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
            <Row label="Gross weight" value={`${p.card.grossLb.toLocaleString("en").replaceAll(",", "\u202f")} lb`} />
            <Row label="Pitch trim" value={`${p.card.trimUnits} units`} />
            <Row label="Rotate / lift-off" value={`${p.card.rotateKt} / ${p.card.liftOffKt} kt`} />
            <Row label="Altimeter, sea level / field" value={`${p.card.qnhHpa} / ${p.card.qfeHpa} hPa`} />
            <Row label="Fuel reminder" value={`${p.card.fuelReminderLb} lb`} />
            <Row label={p.tailwindKt > 0 ? "Wind into the exhaust" : "Wind from ahead"} value={`${Math.abs(p.tailwindKt)} kt`} status={p.tailwindKt > 8 ? "caution" : undefined} />
            <Row label="Pressure altitude" value={`${p.pressureAltitudeFt} ft`} />
            {p.alignmentFloorDeg != null && <Row label="Best heading error here" value={`${p.alignmentFloorDeg}°`} />}
          </dl>
          {p.goOrWait && (
            <>
              <h3 className="mt-4 mb-1 font-bold">The alignment</h3>
              <GoPlot answer={p.goOrWait} aligned={0} />
            </>
          )}
        </>
      )}
    </section>
  );
}

function Row({ label, value, status }: { label: string; value: string; status?: Status }) {
  return (
    <>
      <dt className="text-xs text-pale">{label}</dt>
      <dd className="num flex items-center justify-end gap-1.5">
        {status && <Shape status={status} />}
        {value}
      </dd>
    </>
  );
}

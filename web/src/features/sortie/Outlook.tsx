import { useQuery, type UseQueryResult } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { api, type RunHeader, type StartOutlook } from "../../api/client";
import { MethodTable } from "../../ui/method-table";
import { GoPlot } from "../../ui/go-plot";
import { Shape, type Status } from "../../ui/status";
import { clock, difference } from "../../ui/format";
import { heldTotal, Signature, SignaturePair } from "../../ui/signature";
import { OutlookWords } from "../../ui/start-outlook";
import { useSettled } from "./use-settled";

/** What today's situation changes: the numbers for the card, and the simulator run ahead with a steady pilot. */
export function Outlook({ header, ahead, ok }: { header: RunHeader; ahead: UseQueryResult<StartOutlook>; ok: boolean }) {
  const key = useSettled(JSON.stringify({ ...header, pilot: "", mode: "guided" }), 350);
  const settled = useDeferredValue(key);
  const body = JSON.parse(settled) as RunHeader;
  const preview = useQuery({ queryKey: ["preview", settled], queryFn: () => api.preview(body), enabled: ok, retry: false, placeholderData: (p) => p });
  const forecast = useQuery({
    queryKey: ["forecast", settled],
    queryFn: ({ signal }) => api.forecast(body, signal),
    enabled: ok && body.start === "air",
    retry: false,
    placeholderData: (p) => p,
  });
  const relight = useQuery({
    queryKey: ["relight-outlook", settled],
    queryFn: ({ signal }) => api.relightOutlook(body, signal),
    enabled: ok && body.start === "air",
    retry: false,
    placeholderData: (p) => p,
  });
  const error = preview.error ?? forecast.error;
  if (error) {
    return (
      <section aria-label="Outlook" className="rounded-lg bg-panel p-4 text-sm text-caution">
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
      {!air && <Ahead ahead={ahead} header={header} />}
      {p && !air && (
        <>
          <h3 className="mt-4 mb-1 font-bold">The card</h3>
          <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
            <Row label="Gross weight" value={`${p.card.grossLb.toLocaleString("en").replaceAll(",", "\u202f")} lb`} />
            <Row label="Pitch trim" value={`${p.card.trimDeg.toFixed(1)}°`} />
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

/** The start run ahead: what is advised, the numbers, and where its time goes beside the last one that was flown. */
function Ahead({ ahead, header }: { ahead: UseQueryResult<StartOutlook>; header: RunHeader }) {
  const last = useLast(header);
  const outlook = ahead.data;
  if (!outlook) {
    return <p className="text-xs text-pale">{ahead.error ? ahead.error.message : "Running every choice ahead…"}</p>;
  }

  const { asPlanned: planned, held } = outlook;
  // What no answer of the school changes is said here; their prices stand at the answers.
  const others = outlook.options.filter((o) => o.kind !== "school");
  return (
    <div data-testid="outlook" aria-busy={ahead.isFetching}>
      <OutlookWords outlook={outlook} />
      <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
        <Row label="Ready after" value={planned.readyS != null ? clock(planned.readyS) : "never"} />
        <Row label="Hottest start" value={`${Math.round(planned.peakC)} °C`} status={planned.marginC < 0 ? "warning" : planned.marginC < 60 ? "caution" : "ready"} />
        <Row label="Margin to the start limit" value={`${Math.round(planned.marginC)} °C`} />
        <Row label="Starters work" value={`${Math.round(planned.starterS)} s`} />
        {others.map((o) => (
          <Row
            key={o.label}
            label={o.label}
            value={[difference(o.figures.readyS, planned.readyS, " s"), difference(o.figures.peakC, planned.peakC, " °C")].filter(Boolean).join(", ") || "the same"}
          />
        ))}
      </dl>
      {held && (
        <>
          <h3 className="mt-3 mb-1 font-bold">Where the time goes</h3>
          {last && heldTotal(last) > 0 ? (
            <SignaturePair named="column" upper={{ label: "Today, as planned", links: held.links }} lower={{ label: "Your last one", links: last }} />
          ) : (
            <Signature label="Today, as planned" links={held.links} named="column" />
          )}
        </>
      )}
    </div>
  );
}

/** The signature of this callsign's last start of this kind on the type; undefined where there is none. */
function useLast({ pilot, aircraft, start }: RunHeader) {
  const of = { pilot: pilot ?? "", aircraft, beginning: start, limit: "10" };
  return useQuery({
    queryKey: ["last-signature", of],
    queryFn: async () => {
      const run = (await api.runs(of)).runs.find((r) => r.ended);
      return run ? ((await api.signatures([run.id]))[run.id] ?? null) : null;
    },
    enabled: of.pilot !== "",
  }).data;
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

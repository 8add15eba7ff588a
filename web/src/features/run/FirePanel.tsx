import type { Panel } from "../../api/client";
import { clock } from "../../ui/format";
import { Shape } from "../../ui/status";
import { ControlRow } from "./ControlRow";
import { useFlags, useLargest, useRun, useSignal } from "./context";
import { SignalGauge } from "./SignalGauge";

type Fire = NonNullable<Panel["fire"]>;
type Zone = Fire["zones"][number];

/** Whether a zone reports fire, or has had one. */
export function useFire(fire: Fire | null | undefined): boolean {
  return useLargest(fire?.zones.flatMap((z) => [`fire.${z.id}.alarm`, `fire.${z.id}.had`]) ?? []) > 0.5;
}

/**
 * What reports fire, what else says so, and the levers that answer it: on the screen only while there is something to answer.
 * The readings of what burns are shown where the screen has no others.
 */
export function FirePanel({ fire, readings = false }: { fire: Fire; readings?: boolean }) {
  const { panel } = useRun();
  const since = useSignal("fire.since-release");
  const bottles = useSignal("fire.bottles");
  const zones = useZones(fire);
  const told = zones.filter((z) => z.alarm || z.had).map((z) => z.zone);
  const alarm = zones.some((z) => z.alarm);
  const asked = [...told.flatMap((z) => z.controls), ...fire.agent];
  const controls = [...new Set(asked)].map((id) => panel.controls.find((c) => c.id === id)).filter((c) => c !== undefined);
  const gauges = readings ? panel.gauges.filter((g) => told.some((z) => g.signal.startsWith(`${z.id}.`)) && g.link === "core") : [];
  return (
    <section aria-label="Fire" data-testid="fire" className="flex flex-col gap-2 rounded-lg bg-panel p-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className={`flex items-center gap-1.5 text-sm font-bold ${alarm ? "text-warning" : ""}`}>
          <Shape status={alarm ? "warning" : "off"} />
          Fire
        </h2>
        <p className="text-sm" data-testid="fire-sentence">
          {sentence(zones)}
        </p>
      </div>
      <ul className="flex flex-col gap-1">
        {zones.map((z) => (
          <ZoneLine key={z.zone.id} told={z} />
        ))}
      </ul>
      <div className="grid items-end gap-x-6 gap-y-2 sm:grid-cols-2">
        <SignalGauge signal="smoke.behind" />
        {fire.bottles > 0 && (
          <p className="flex justify-between gap-2 text-sm">
            <span className="text-pale">Bottles left</span>
            <span className="num">
              {bottles} of {fire.bottles}
              {bottles < fire.bottles && <span className="text-pale">, the last {clock(since)} ago</span>}
            </span>
          </p>
        )}
      </div>
      <ControlRow controls={controls} />
      {gauges.length > 0 && (
        <div className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(14rem,1fr))] gap-x-5 gap-y-3">
          {gauges.map((g) => (
            <SignalGauge key={g.signal} signal={g.signal} />
          ))}
        </div>
      )}
    </section>
  );
}

/** What a zone says of itself. */
interface Told {
  zone: Zone;
  alarm: boolean;
  sure: boolean;
  had: boolean;
  shut: boolean;
}

const signs = ["alarm", "sure", "had", "shut"] as const;

function useZones(fire: Fire): Told[] {
  const flags = useFlags(fire.zones.flatMap((z) => signs.map((sign) => `fire.${z.id}.${sign}`)));
  return fire.zones.map((zone, i) => {
    const [alarm, sure, had, shut] = signs.map((_, k) => flags[i * signs.length + k] === "1");
    return { zone, alarm: alarm!, sure: sure!, had: had!, shut: shut! };
  });
}

function sentence(zones: readonly Told[]): string {
  if (zones.some((z) => z.sure)) {
    return "Two signs agree: it burns.";
  }

  if (zones.some((z) => z.alarm && !z.had)) {
    return "One sign only, a lamp: look for smoke and a second loop first.";
  }

  return zones.some((z) => z.alarm) ? "It dies down: wait for the lamp." : "It is out. Nothing there is opened or started again.";
}

function ZoneLine({ told: { zone, alarm, sure, had, shut } }: { told: Told }) {
  const word = sure ? "burns" : alarm ? (had ? "dies down" : "reports fire") : had ? "out" : "quiet";
  return (
    <li data-zone={zone.id} data-word={word} className="flex justify-between gap-2 border-t border-line pt-1 text-sm">
      <span>{zone.label}</span>
      <span className="flex items-center gap-3">
        {shut && <span className="text-pale">shut off</span>}
        <span className={`flex items-center gap-1.5 ${alarm ? "text-warning" : "text-pale"}`}>
          <Shape status={alarm ? "warning" : "off"} />
          {word}
        </span>
      </span>
    </li>
  );
}

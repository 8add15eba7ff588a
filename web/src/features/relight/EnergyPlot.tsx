import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { FlightPlot, isInside } from "../../ui/flight-plot";
import { number } from "../../ui/format";
import { useLit, useRun, useSignal } from "../run/context";
import { useOutlook } from "./outlook";

/** The flight as it goes: height over airspeed, and whether fuel now would bring the dead core back. */
export function EnergyPlot({ dead }: { dead: string }) {
  const { connection, panel } = useRun();
  useSignal("time");
  // Alone nothing is foretold: the debrief draws it all.
  const told = connection.snapshot!.header.mode !== "alone";
  const envelope = useQuery({
    queryKey: ["relight-envelope", connection.id],
    queryFn: ({ signal }) => api.relightEnvelope(connection.id, signal),
    staleTime: Infinity,
    enabled: told,
  }).data;
  const chances = useQuery({ queryKey: ["last-chances", connection.id], queryFn: ({ signal }) => api.lastChances(connection.id, signal), staleTime: Infinity, enabled: told }).data;
  const outlook = useOutlook(dead).data;
  const height = connection.value("flight.height");
  const speed = connection.value("flight.eas");
  const above = connection.value("flight.above-decision");
  const lit = connection.value(`${dead}.lit`) > 0.5;
  const read = useLit();
  const burnt = connection.value(`fire.${dead}.had`) > 0.5;
  const sink = -connection.value("flight.vertical-speed") / 60;
  const e = panel.envelope;
  const turns = connection.value(`${dead}.flamed-out`) > 0.5 && outlook?.methods.some((m) => m.id === "immediate" && m.works);
  const inside = envelope ? isInside(envelope, speed, height) : false;
  return (
    <section aria-label="Height and speed" className="flex min-h-64 flex-1 flex-col rounded-lg bg-panel p-2">
      <div className="flex flex-wrap justify-between gap-x-3 px-1 text-sm">
        <span className="num whitespace-nowrap" data-testid="height">
          {read ? number(height, 10) : "–"} <span className="text-2xs text-pale">ft</span>
        </span>
        <span className="num whitespace-nowrap">
          {read ? number(speed, 1) : "–"} <span className="text-2xs text-pale">kt</span>
        </span>
        <span className="num">
          {read && above > 0 && sink > 1 ? Math.round(above / sink) : "–"} <span className="text-2xs text-pale">s to the decision height</span>
        </span>
        <span className={burnt ? "text-pale" : lit ? "text-ready" : turns || inside ? "text-advisory" : "text-pale"} data-testid="envelope-word">
          {burnt
            ? "it burnt: not started again"
            : lit
              ? "✓ lit"
              : turns
                ? "◆ it turns fast: it may light by itself"
                : inside
                  ? "◆ fuel now: it comes to idle"
                  : envelope
                    ? "fuel now: it will not start"
                    : ""}
        </span>
      </div>
      <FlightPlot
        label={`Height ${Math.round(height)} feet, speed ${Math.round(speed)} knots`}
        envelope={envelope}
        chances={chances}
        glideEasKt={e.glideEasKt}
        maxEasKt={e.maxEasKt}
        highestFt={Math.max(e.maxAltitudeFt, connection.snapshot!.header.flight?.heightFt ?? 0)}
        decisionFt={height - above}
        heights={connection.trace.values.get("flight.height") ?? []}
        speeds={connection.trace.values.get("flight.eas") ?? []}
        now={{ easKt: speed, heightFt: height }}
        path={outlook?.path}
        axis={
          !read
            ? "kt EAS"
            : `kt EAS · now ${number(connection.value("flight.cas"), 1)} CAS, ${number(connection.value("flight.tas"), 1)} true, ` +
              `Mach ${connection.value("flight.mach").toFixed(2)}`
        }
        className="min-h-0 w-full flex-1"
      />
    </section>
  );
}

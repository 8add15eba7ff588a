import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { api, type Debrief } from "../../api/client";
import { FlightPlot } from "../../ui/flight-plot";
import { clock } from "../../ui/format";
import { MethodTable } from "../../ui/method-table";
import { showToast } from "../../ui/toast-store";

interface Props {
  d: Debrief;
  at: number | null;
  /** Another flight to hold it against. */
  other?: Debrief | undefined;
}

/** A flight over the envelope of its day: where it was at the picked moment, what each method would have cost from there, and what it came to. */
export function FlightFlown({ d, at, other }: Props) {
  const navigate = useNavigate();
  const moment = Math.min(at ?? d.flight?.outS ?? 0, d.seconds);
  const envelope = useQuery({ queryKey: ["relight-envelope", d.id], queryFn: ({ signal }) => api.relightEnvelope(d.id, signal), staleTime: Infinity });
  const chances = useQuery({ queryKey: ["last-chances", d.id], queryFn: ({ signal }) => api.lastChances(d.id, signal), staleTime: Infinity });
  const outlook = useQuery({
    queryKey: ["relight-outlook-at", d.id, moment],
    queryFn: ({ signal }) => api.runRelightOutlook(d.id, signal, moment),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const heights = d.traces.columns["flight.height"] ?? [];
  const speeds = d.traces.columns["flight.eas"] ?? [];
  const above = d.traces.columns["flight.above-decision"] ?? [];
  const i = Math.max(0, Math.min(heights.length - 1, Math.round(moment * d.traces.hz)));
  const e = envelope.data;
  const tryIt = (method: string) =>
    api
      .fork(d.id, moment, method)
      .then(({ id }) => navigate(`/run/${id}`))
      .catch((error: Error) => showToast(error.message, "caution"));
  return (
    <section className="rounded-lg bg-panel p-4" aria-label="The flight">
      <h2 className="font-bold">The flight, over today’s envelope</h2>
      <div className="mt-2 grid gap-4 md:grid-cols-[minmax(0,1fr)_17rem]">
        {e && heights.length > 0 ? (
          <FlightPlot
            label={`At ${clock(moment)}: ${Math.round(heights[i] ?? 0)} feet, ${Math.round(speeds[i] ?? 0)} knots`}
            envelope={e}
            chances={chances.data}
            glideEasKt={e.glideEasKt}
            maxEasKt={e.maxEasKt}
            highestFt={Math.max(e.maxAltitudeFt, d.header.flight?.heightFt ?? 0)}
            decisionFt={(heights[i] ?? 0) - (above[i] ?? 0)}
            heights={heights}
            speeds={speeds}
            now={{ easKt: speeds[i] ?? 0, heightFt: heights[i] ?? 0 }}
            path={outlook.data?.path}
            beside={other?.flight ? trailOf(other) : undefined}
            className="w-full"
          />
        ) : (
          <p className="text-xs text-pale">{envelope.error ? envelope.error.message : "Flying ahead…"}</p>
        )}
        <div>
          <h3 className="mb-1 text-xs text-pale">From {clock(moment)}, flown ahead</h3>
          {outlook.data && <MethodTable outlook={outlook.data} onTry={(id) => void tryIt(id)} />}
          {outlook.error && <p className="text-xs text-caution">▲ {outlook.error.message}</p>}
        </div>
      </div>
      {d.flight && (
        <table className="mt-3 w-full text-sm" data-testid="flown">
          <thead>
            <tr className="text-2xs text-pale">
              <th scope="col" className="text-left font-normal">
                What it came to
              </th>
              <th scope="col" className="text-right font-normal">
                this run
              </th>
              {other?.flight && (
                <th scope="col" className="text-right font-normal">
                  <Link to={`/debrief/${other.id}`} className="text-heather underline">
                    {other.id === d.parent ? `forked from, at ${clock(d.parentAt ?? 0)}` : "the other"}
                  </Link>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {rows.map(([label, of]) => (
              <tr key={label} className="border-t border-line">
                <th scope="row" className="py-1 text-left font-normal text-pale">
                  {label}
                </th>
                <td className="num py-1 text-right">{of(d)}</td>
                {other?.flight && <td className="num py-1 text-right">{of(other)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

const trailOf = (d: Debrief) => ({ heights: d.traces.columns["flight.height"] ?? [], speeds: d.traces.columns["flight.eas"] ?? [] });

const ends: Record<string, string> = {
  flying: "still flying",
  restarted: "the engine runs",
  "home-on-one": "home on one engine",
  left: "the aircraft was left",
  landed: "landed",
  "hit-ground": "hit the ground",
};
const feet = (ft: number | null | undefined) => (ft == null ? "–" : `${ft.toLocaleString("en").replaceAll(",", "\u202f")} ft`);
const seconds = (s: number | null | undefined) => (s == null ? "–" : `${s} s`);

const rows: [string, (d: Debrief) => string][] = [
  ["Ended", (d) => ends[d.flight!.end] ?? d.flight!.end],
  ["Engine named after", (d) => (d.flight!.namedS == null ? "–" : `${d.flight!.namedS} s${d.flight!.wrongFirst ? ", the wrong one first" : ""}`)],
  ["Lit at", (d) => feet(d.flight!.litFt)],
  ["Idle at", (d) => feet(d.flight!.idleFt)],
  ["Flame-out to idle", (d) => seconds(d.flight!.idleS)],
  ["Height used", (d) => feet(d.flight!.usedFt)],
  ["Height needed, the best method", (d) => (d.flight!.neededFt == null ? "–" : `${feet(d.flight!.neededFt)}, ${(d.flight!.best ?? "").toLowerCase()}`)],
  ["Above the decision height then", (d) => feet(d.flight!.aboveFt)],
];

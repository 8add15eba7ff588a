import { useQuery } from "@tanstack/react-query";
import { api, type StartCard, type Starts } from "../../api/client";
import { number } from "../../ui/format";
import { StartFiguresList } from "../../ui/start-figures";
import { StartPlot } from "../../ui/start-plot";
import { useRun, useSeconds } from "../run/context";

/** The card of an engine's last start: its figures, its curve over the expected one, and this pilot's earlier starts. */
export function StartCardView({ engine }: { engine: string }) {
  const { connection, panel } = useRun();
  useSeconds(); // the curve goes on after idle
  const starts = useQuery({
    queryKey: ["starts", connection.id, engine, connection.value(`${engine}.fuel-ons`)],
    queryFn: () => api.starts(connection.id),
    staleTime: 0,
    retry: false,
  });
  const card = starts.data?.cards.filter((c) => c.engine === engine).at(-1);
  if (!starts.data || !card) {
    return <p className="text-xs text-pale">{starts.error ? starts.error.message : starts.data ? "No start of this engine yet." : "Reading the start…"}</p>;
  }

  const from = connection.trace.t.findIndex((t) => t >= card.at);
  const flown = from < 0 ? [] : (connection.trace.values.get(`${engine}.egt`) ?? []).slice(from);
  const times = connection.trace.t.slice(Math.max(0, from)).map((t) => t - card.at);
  const gauge = panel.gauges.find((g) => g.signal === `${engine}.egt`);
  return (
    <div data-testid="start-card" data-outcome={card.outcome} className="flex flex-1 flex-col gap-1.5 border-t border-line pt-2">
      <StartFiguresList card={card} starts={starts.data} />
      <StartPlot
        flown={{ t: times, gas: flown }}
        expected={starts.data.expected.find((c) => c.engine === engine)?.gasC ?? []}
        limit={starts.data.startLimitC}
        max={gauge?.max ?? 1000}
      />
      <Earlier starts={starts.data} card={card} />
    </div>
  );
}

/** This pilot's earlier peaks on the type, oldest left, against the limit; the present one last. */
function Earlier({ starts, card }: { starts: Starts; card: StartCard }) {
  const before = starts.earlier.filter((e) => e.outcome === "idle").toReversed();
  if (before.length === 0) {
    return <p className="text-2xs text-pale">No earlier start by this callsign on this type: the next one is held against this.</p>;
  }

  const idle = before
    .map((e) => e.idleS)
    .filter((x): x is number => x !== null && x !== undefined)
    .sort((a, b) => a - b);
  const peaks = before.map((e) => e.peakC).sort((a, b) => a - b);
  const middle = (x: number[]) => x[Math.floor(x.length / 2)]!;
  const air = before.map((e) => Math.round(e.oatC)).sort((a, b) => a - b);
  const cooler = before.filter((e) => e.peakC > card.peakC).length;
  const place = cooler === 0 ? "your hottest so far" : cooler === before.length ? "your coolest so far" : `cooler than ${cooler}`;
  return (
    <p className="text-2xs text-pale" data-testid="earlier">
      Your last {before.length} on this type, at {air[0]}
      {air[0] === air.at(-1) ? "" : ` to ${air.at(-1)}`} °C outside: peak {number(middle(peaks), 1)} °C in the middle, {number(peaks[0]!, 1)} to {number(peaks.at(-1)!, 1)}; crank
      to idle {number(middle(idle), 0.1)} s. {card.outcome === "idle" && `This one: ${place}.`}
    </p>
  );
}

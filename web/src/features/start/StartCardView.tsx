import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, type StartCard, type Starts } from "../../api/client";
import { number } from "../../ui/format";
import { Shape, type Status } from "../../ui/status";
import { useRun } from "../run/context";
import { StartPlot } from "./StartPlot";

const outcomes: Record<string, string> = { open: "goes on", idle: "at idle", "cut-off": "cut off", motored: "motored, no fuel" };

/** The card of an engine's last start: its figures, its curve over the expected one, and this pilot's earlier starts. */
export function StartCardView({ engine }: { engine: string }) {
  const { connection, panel } = useRun();
  const starts = useQuery({ queryKey: ["starts", connection.id, engine, connection.value(`${engine}.fuel-ons`)], queryFn: () => api.starts(connection.id), staleTime: 0, retry: false });
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

/** What a start was, in figures. */
export function StartFiguresList({ card, starts }: { card: StartCard; starts: Pick<Starts, "startLimitC" | "settledLimitC"> }) {
  // A core that was not lit has no peak: what its gauge showed was the air.
  const lit = card.lightS != null || card.outcome === "open";
  const heat: Status = card.marginC < 0 ? "warning" : card.marginC < 60 ? "caution" : "ready";
  const s = (x: number | null | undefined) => (x === null || x === undefined ? "—" : `${number(x, 0.1)} s`);
  return (
    <dl className="grid grid-cols-[repeat(auto-fill,minmax(8.2rem,1fr))] gap-x-4 gap-y-1">
      <Figure label={`Attempt ${card.attempt}`} value={outcomes[card.outcome] ?? card.outcome} />
      <Figure label="Peak" value={lit ? `${number(card.peakC, 1)} °C` : "–"} note={card.peakS !== null && card.peakS !== undefined ? `after ${number(card.peakS, 0.1)} s` : ""} />
      <Figure label="Margin to the limit" value={lit ? `${number(card.marginC, 1)} °C` : "–"} mark={lit ? <Shape status={heat} /> : undefined} />
      <Figure label="Fuel given" value={s(card.fuelS)} note={card.fuelN2Pct ? `at ${number(card.fuelN2Pct, 0.1)} %` : ""} />
      <Figure label="Light-off" value={s(card.lightS)} note="after fuel" />
      <Figure label="Crank to idle" value={s(card.idleS)} />
      <Figure label={`Above ${number(starts.startLimitC, 1)} °C`} value={s(card.overLimitS)} />
      <Figure label={`Above ${number(starts.settledLimitC, 1)} °C`} value={s(card.overSettledS)} />
      <Figure label="Starter worked" value={s(card.starterS)} />
      {card.reactionS !== null && card.reactionS !== undefined && <Figure label="Your cut" value={s(card.reactionS)} note="after the advice" />}
      {card.takenFor && (
        <div className="col-span-full text-2xs text-pale" data-testid="taken-for">
          The watch took it for {card.takenFor}, {Math.round(10 * (card.takenShare ?? 0))} in 10
          {card.foretoldC != null && `, and foretold a peak of ${number(card.foretoldC, 1)} °C a second after the light`}.
        </div>
      )}
    </dl>
  );
}

function Figure({ label, value, note, mark }: { label: string; value: string; note?: string; mark?: ReactNode }) {
  return (
    <div className="min-w-0">
      <dt className="truncate text-2xs text-pale">{label}</dt>
      <dd className="num truncate text-sm">
        {mark} {value} {note && <span className="text-2xs text-pale">{note}</span>}
      </dd>
    </div>
  );
}

/** This pilot's earlier peaks on the type, oldest left, against the limit; the present one last. */
function Earlier({ starts, card }: { starts: Starts; card: StartCard }) {
  const before = starts.earlier.filter((e) => e.outcome === "idle").toReversed();
  if (before.length === 0) {
    return <p className="text-2xs text-pale">No earlier start by this callsign on this type: the next one is held against this.</p>;
  }

  const idle = before.map((e) => e.idleS).filter((x): x is number => x !== null && x !== undefined).sort((a, b) => a - b);
  const peaks = before.map((e) => e.peakC).sort((a, b) => a - b);
  const middle = (x: number[]) => x[Math.floor(x.length / 2)]!;
  const air = before.map((e) => Math.round(e.oatC)).sort((a, b) => a - b);
  const cooler = before.filter((e) => e.peakC > card.peakC).length;
  return (
    <p className="text-2xs text-pale" data-testid="earlier">
      Your last {before.length} on this type, at {air[0]}{air[0] === air.at(-1) ? "" : ` to ${air.at(-1)}`} °C outside: peak {number(middle(peaks), 1)} °C in the middle, {number(peaks[0]!, 1)} to {number(peaks.at(-1)!, 1)}; crank to idle {number(middle(idle), 0.1)} s. {card.outcome === "idle" && `Cooler than ${cooler} of them.`}
    </p>
  );
}

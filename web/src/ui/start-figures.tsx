import type { ReactNode } from "react";
import type { StartCard, Starts } from "../api/client";
import { number } from "./format";
import { Shape, type Status } from "./status";

const outcomes: Record<string, string> = { open: "goes on", idle: "at idle", "cut-off": "cut off", motored: "motored, no fuel" };

/** What a start was, in figures. */
export function StartFiguresList({ card, starts }: { card: StartCard; starts: Pick<Starts, "startLimitC" | "settledLimitC"> }) {
  // A core that was not lit has no peak: what its gauge showed was the air.
  const lit = card.lightS != null || card.outcome === "open";
  const heat: Status = card.marginC < 0 ? "warning" : card.marginC < 60 ? "caution" : "ready";
  const s = (x: number | null | undefined) => (x === null || x === undefined ? "—" : `${number(x, 0.1)} s`);
  return (
    <>
      <dl className="grid grid-cols-[repeat(auto-fill,minmax(8.2rem,1fr))] gap-x-4 gap-y-1">
        <Figure label={`Attempt ${card.attempt}`} value={outcomes[card.outcome] ?? card.outcome} />
        <Figure label="Peak" value={lit ? `${number(card.peakC, 1)} °C` : "–"} note={card.peakS != null ? `after ${number(card.peakS, 0.1)} s` : ""} />
        <Figure label="Margin to the limit" value={lit ? `${number(card.marginC, 1)} °C` : "–"} mark={lit ? <Shape status={heat} /> : undefined} />
        <Figure label="Fuel given" value={s(card.fuelS)} note={card.fuelN2Pct ? `at ${number(card.fuelN2Pct, 0.1)} %` : ""} />
        <Figure label="Light-off" value={s(card.lightS)} note="after fuel" />
        <Figure label="Crank to idle" value={s(card.idleS)} />
        <Figure label={`Above ${number(starts.startLimitC, 1)} °C`} value={s(card.overLimitS)} />
        <Figure label={`Above ${number(starts.settledLimitC, 1)} °C`} value={s(card.overSettledS)} />
        <Figure label="Starter worked" value={s(card.starterS)} />
        {card.reactionS !== null && card.reactionS !== undefined && <Figure label="Your cut" value={s(card.reactionS)} note="after the advice" />}
      </dl>
      {card.takenFor && (
        <p className="text-2xs text-pale" data-testid="taken-for">
          The watch took it for {card.takenFor}, {Math.round(10 * (card.takenShare ?? 0))} in 10
          {card.foretoldC != null && `, and foretold a peak of ${number(card.foretoldC, 1)} °C a second after the light`}.
        </p>
      )}
    </>
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

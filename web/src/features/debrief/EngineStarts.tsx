import { useQuery } from "@tanstack/react-query";
import { api, type Debrief } from "../../api/client";
import { clock } from "../../ui/format";
import { StartFiguresList } from "../../ui/start-figures";
import { StartPlot } from "../../ui/start-plot";

/** Every attempt to start an engine in this run: its figures and its curve over the expected one. */
export function EngineStarts({ d, other, onPick }: { d: Debrief; other?: Debrief | undefined; onPick: (t: number) => void }) {
  const starts = useQuery({ queryKey: ["starts", d.id, "debrief"], queryFn: () => api.starts(d.id), enabled: d.summary.starts.length > 0, retry: false });
  if (starts.error) {
    return (
      <p role="alert" className="rounded-lg bg-panel p-4 text-sm text-caution">
        ▲ The engine starts cannot be shown: {starts.error.message}
      </p>
    );
  }

  if (!starts.data) {
    return null;
  }

  const curve = (of: Debrief, engine: string, from: number) => {
    const gas = (of.traces.columns[`${engine}.egt-true`] ?? []).slice(Math.round(from * of.traces.hz));
    return { t: gas.map((_, i) => i / of.traces.hz), gas };
  };
  return (
    <section className="rounded-lg bg-panel p-4" aria-label="Engine starts">
      <h2 className="font-bold">Engine starts</h2>
      {starts.data.cards.map((card) => {
        const flown = curve(d, card.engine, card.at);
        const theirs = other?.summary.starts.find((c) => c.engine === card.engine && c.attempt === card.attempt);
        return (
          <article key={`${card.engine}${card.attempt}`} className="mt-2 border-t border-line pt-2" data-testid="debrief-start" data-outcome={card.outcome}>
            <button type="button" className="mb-1 text-sm hover:text-heather" onClick={() => onPick(card.at)}>
              {card.engine === "main" ? "Engine" : `${card.engine.charAt(0).toUpperCase()}${card.engine.slice(1)} engine`}{" "}
              <span className="num ml-1 text-2xs text-pale">{clock(card.at)}</span>
            </button>
            <StartFiguresList card={card} starts={starts.data} />
            {card.outcome !== "motored" && (
              <StartPlot
                flown={flown}
                beside={other && theirs && curve(other, theirs.engine, theirs.at)}
                expected={starts.data.expected.find((c) => c.engine === card.engine)?.gasC ?? []}
                limit={starts.data.startLimitC}
                max={Math.max(1000, ...flown.gas.slice(0, 90 * d.traces.hz))}
              />
            )}
          </article>
        );
      })}
    </section>
  );
}

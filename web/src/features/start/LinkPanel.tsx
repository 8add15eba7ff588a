import { useRun } from "../run/context";
import { ControlCard } from "../run/ControlCard";
import { SignalGauge } from "../run/SignalGauge";
import { OneLine } from "./OneLine";

/** The controls and readings of the open link. */
export function LinkPanel({ link }: { link: string }) {
  const { panel, connection } = useRun();
  const start = connection.snapshot!.header.start === "air" ? "air" : "ground";
  const shown = panel.chain.find((l) => l.id === link);
  const title = shown?.label ?? link;
  const electrics = shown?.number.startsWith("bus.") ?? false;
  const controls = panel.controls.filter((c) => c.link === link && (!c.only || c.only === start));
  const own = panel.gauges.filter((g) => g.link === link && (start === "air" || !g.signal.startsWith("flight.")) && !(electrics && g.signal.startsWith("bus.")));
  // Left engine on the left, right engine on the right, like the levers.
  const rank = (signal: string) => (signal.startsWith("left.") ? 0 : 1);
  const reading = (signal: string) => own.findIndex((g) => g.signal.split(".")[1] === signal.split(".")[1]);
  const gauges = own.toSorted((a, b) => reading(a.signal) - reading(b.signal) || rank(a.signal) - rank(b.signal));
  return (
    <section aria-label={`${title}: controls and readings`} className="flex min-h-0 flex-col gap-3 overflow-auto rounded-lg bg-panel p-3" data-panel={link}>
      <h2 className="text-sm font-bold">{title}</h2>
      {electrics && <OneLine />}
      <div className="grid grid-cols-[repeat(auto-fill,minmax(11.5rem,1fr))] gap-2">
        {controls.map((c) => (
          <ControlCard key={c.id} control={c} />
        ))}
      </div>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(14rem,1fr))] gap-x-5 gap-y-2.5">
        {gauges.map((g) => (
          <SignalGauge key={g.signal} signal={g.signal} />
        ))}
      </div>
    </section>
  );
}

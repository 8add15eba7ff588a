import { memo, useState } from "react";
import type { Gauge } from "../../api/client";
import { Button } from "../../ui/button";
import { Tabs } from "../../ui/tabs";
import { useFlags, useRun, useRunPart } from "../run/context";
import { ControlCard } from "../run/ControlCard";
import { isHere } from "../run/is-here";
import { SignalGauge } from "../run/SignalGauge";
import { GoOrWait } from "./GoOrWait";
import { HelmetSight, useSightOpen } from "./HelmetSight";
import { CautionSides, IdleTable } from "./IdleTable";
import { OneLine } from "./OneLine";
import { RunAhead } from "./RunAhead";
import { StartCardView } from "./StartCardView";
import { Surfaces } from "./Surfaces";

/** The controls and readings of the open link. */
export const LinkPanel = memo(function LinkPanel({ link, onHand, onWatch, onFire }: { link: string; onHand: () => void; onWatch?: () => void; onFire?: () => void }) {
  const { panel, connection } = useRun();
  const start = connection.snapshot!.header.start === "air" ? "air" : "ground";
  const ended = useRunPart((s) => s.ended);
  // Advice is help, and alone there is none.
  const advised = start === "ground" && !ended && connection.snapshot!.header.mode !== "alone";
  const shown = panel.chain.find((l) => l.id === link);
  const title = shown?.label ?? link;
  const electrics = shown?.number.startsWith("bus.") ?? false;
  const here = panel.controls.filter((c) => c.link === link && isHere(c, connection));
  const sight = useSightOpen(panel.sight) && here.some((c) => c.id === panel.sight!.control) ? panel.sight : null;
  const ofSight = sight ? [sight.control, sight.azimuth, sight.elevation, sight.roll, sight.save] : [];
  const controls = here.filter((c) => !ofSight.includes(c.id));
  const own = panel.gauges.filter((g) => g.link === link && (start === "air" || !g.signal.startsWith("flight.")) && !(electrics && g.signal.startsWith("bus.")));
  // Left engine on the left, right engine on the right, like the levers.
  const core = panel.gauges.some((g) => g.link === link && g.signal === `${panel.engines[0]!.id}.n2`);
  const rank = (signal: string) => (signal.startsWith("left.") ? 0 : 1);
  const reading = (signal: string) => own.findIndex((g) => g.signal.split(".")[1] === signal.split(".")[1]);
  const gauges = own.toSorted((a, b) => reading(a.signal) - reading(b.signal) || rank(a.signal) - rank(b.signal));
  return (
    <section
      aria-label={`${title}: controls and readings`}
      onPointerDownCapture={onHand}
      className="flex min-h-0 flex-col gap-3 overflow-auto rounded-lg bg-panel p-3"
      data-panel={link}
    >
      <div className="flex items-center justify-between">
        <h2 className="text-sm font-bold">{title}</h2>
        {onFire && (
          <Button size="small" onClick={onFire}>
            To the fire
          </Button>
        )}
        {onWatch && (
          <Button size="small" look="primary" onClick={onWatch}>
            Watch the start
          </Button>
        )}
      </div>
      {electrics && <OneLine />}
      {sight && <HelmetSight sight={sight} />}
      <div className="grid grid-flow-row-dense grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-2">
        {controls.map((c) => (
          <ControlCard key={c.id} control={c} />
        ))}
      </div>
      {panel.surfaces && here.some((c) => c.id === "control-sweep") && <Surfaces surfaces={panel.surfaces} />}
      {own.some((g) => g.signal === "ins.heading-error") && advised && <GoOrWait />}
      {core && start === "ground" ? <CoreViews gauges={gauges} /> : <Gauges gauges={gauges} />}
    </section>
  );
});

function Gauges({ gauges }: { gauges: readonly Gauge[] }) {
  return (
    <div className="grid grid-cols-[repeat(auto-fill,minmax(14rem,1fr))] gap-x-5 gap-y-2.5">
      {gauges.map((g) => (
        <SignalGauge key={g.signal} signal={g.signal} />
      ))}
    </div>
  );
}

/** Below the levers of the core, one at a time: readings, idle table, the start before it is made, its cards. */
function CoreViews({ gauges }: { gauges: readonly Gauge[] }) {
  const { panel, connection } = useRun();
  const ended = useRunPart((s) => s.ended);
  const [view, setView] = useState("readings");
  const fuelled = useFlags(panel.engines.map((e) => `${e.id}.fuel-ons`));
  const cranked = useFlags(panel.engines.map((e) => `${e.id}.starter-time`));
  // The look ahead would be help, and alone there is none.
  const ahead = connection.snapshot!.header.mode !== "alone" && !ended;
  const tried = panel.engines.filter((_, i) => fuelled[i] === "1" || cranked[i] === "1");
  const tabs = [
    { value: "readings", label: "Readings", content: <Gauges gauges={gauges} /> },
    {
      value: "idle",
      label: "At idle",
      content: (
        <>
          <IdleTable />
          <CautionSides />
        </>
      ),
    },
    ...(ahead ? [{ value: "ahead", label: "Look ahead", content: <RunAhead /> }] : []),
    ...tried.map((e) => ({ value: e.id, label: `Card${panel.engines.length > 1 ? ` ${e.label.toLowerCase()}` : ""}`, content: <StartCardView engine={e.id} /> })),
  ];
  return <Tabs label="What of the core" value={view} onChange={setView} tabs={tabs} className="flex flex-1 flex-col gap-3" />;
}

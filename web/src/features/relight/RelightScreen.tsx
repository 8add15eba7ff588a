import clsx from "clsx";
import { lazy, Suspense } from "react";
import { ControlRow } from "../run/ControlRow";
import { FirePanel, useFire } from "../run/FirePanel";
import { useFlags, useRun, useRunPart, useSignal } from "../run/context";
import { RunFrame } from "../run/RunFrame";
import { SignalGauge } from "../run/SignalGauge";
import { AloneNote, CueCard } from "../run/CueCard";
import { EnergyPlot } from "./EnergyPlot";
import { HeightCosts } from "./HeightCosts";

const stay = () => undefined;
const Traces = lazy(() => import("../run/Traces"));

/** An air restart flown against falling height: height over speed in the middle, the few controls that matter below. */
export function RelightScreen() {
  const { connection, panel } = useRun();
  const flight = connection.snapshot!.header.flight;
  const burns = useFlags(panel.engines.map((e) => `${e.id}.lit`));
  // Where everything ran, nobody tells beforehand which one will fail: it is the first that does not burn.
  const engine = panel.engines.find((e, i) => (flight?.dead === "none" ? burns[i] === "0" : e.id === flight?.dead)) ?? panel.engines[0]!;
  const dead = engine.id;
  // Which one failed is read from both; they keep their places.
  const sides = flight?.dead === "none" ? panel.engines : [engine, ...panel.engines.filter((e) => e !== engine)];
  const bothFly = flight?.dead === "none" || flight?.other === "idle";
  const fire = useFire(panel.fire);
  const alone = connection.snapshot!.header.mode === "alone";
  const target = useRunPart((s) => s.cue?.act?.target);
  const master = useSignal("caution.master") > 0.5;
  // While one burns the other one's lever is there when it is asked for: the way home.
  const home = sides.find((e) => e.throttle === target && connection.value(`fire.${e.id}.alarm`) < 0.5)?.throttle;
  // What else the procedure sets on the way is here too; agent and guarded shut-offs are for a fire, which has a panel of its own with all that answers it.
  const ofFire = panel.fire ? [...panel.fire.agent, ...panel.fire.zones.flatMap((z) => z.controls)] : [];
  const notHere = new Set([
    ...(panel.fire?.agent ?? []),
    "acknowledge",
    "leave",
    ...panel.controls.filter((c) => c.kind === "guarded").map((c) => c.id),
    ...panel.engines.flatMap((e) => e.controls),
  ]);
  const onTheWay = panel.aloft.filter((id) => !notHere.has(id));
  const asked = ["pitch", "airspeed", ...(bothFly ? sides.map((e) => e.throttle) : []), ...engine.controls, ...(master ? ["acknowledge"] : []), ...onTheWay, "leave"];
  const controls = [...new Set(asked)].map((id) => panel.controls.find((c) => c.id === id)).filter((c) => c !== undefined);
  return (
    <RunFrame onGoTo={stay}>
      <main
        className={clsx(
          "grid min-h-0 flex-1 grid-cols-1 gap-2 p-2",
          alone ? "lg:grid-cols-[minmax(0,1fr)_27rem]" : "md:grid-cols-[16rem_minmax(0,1fr)] lg:grid-cols-[19rem_minmax(0,1fr)_20rem]",
        )}
      >
        {!alone && (
          <CueCard bars={false}>
            <HeightCosts dead={dead} />
          </CueCard>
        )}
        <div className="flex min-h-0 flex-col gap-2">
          <EnergyPlot dead={dead} />
          {fire && panel.fire && <FirePanel fire={panel.fire} />}
          <section aria-label="Controls" className="rounded-lg bg-panel p-2">
            <ControlRow
              controls={
                fire
                  ? controls.filter(
                      (c) =>
                        c.kind === "dial" ||
                        c.id === (target === "leave" || !master ? "leave" : "acknowledge") ||
                        c.id === home ||
                        (c.id === target && onTheWay.includes(c.id) && !ofFire.includes(c.id)),
                    )
                  : controls
              }
            />
          </section>
        </div>
        <div className={clsx("flex min-h-0 flex-col gap-2", !alone && "md:col-start-2 lg:col-start-auto")}>
          {alone && <AloneNote />}
          <section aria-label="Readings" className="flex flex-col gap-3 rounded-lg bg-panel p-3">
            {["n2", "egt"].flatMap((reading) =>
              sides.map((e) => <SignalGauge key={e.id + reading} signal={`${e.id}.${reading}`} size={e === engine && flight?.dead !== "none" ? "large" : "normal"} />),
            )}
            <SignalGauge signal="flight.eas" size="large" />
            <SignalGauge signal="flight.above-decision" size="large" />
          </section>
          <Suspense fallback={<div className="flex-1" />}>
            <Traces />
          </Suspense>
        </div>
      </main>
    </RunFrame>
  );
}

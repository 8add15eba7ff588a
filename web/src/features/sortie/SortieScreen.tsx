import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, type Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Choice, Field, NumberInput } from "../../ui/field";
import { Page } from "../../ui/page";
import { Shape } from "../../ui/status";
import { BeforeLaunch } from "./BeforeLaunch";
import { Outlook } from "./Outlook";
import { FaultPicker } from "./FaultPicker";
import { HardwareList } from "./HardwareList";
import { DrillPicker } from "./DrillPicker";
import { badNumber, drillOf, firstSituation, headerOf, jetOf, offered, placesOf, storable, weatherOf, type Situation } from "./situation";

const beginningWords: Record<string, string> = {
  first: "Everything off, everything where it belongs",
  turnaround: "As the last pilot left it: sweep before power",
  air: "A dead engine or a fire, against falling height",
};

const modes = [
  ["guided", "Guided", "The cue is always shown."],
  ["prompted", "Prompted", "A checklist; the cue only when you ask."],
  ["alone", "Alone", "Nothing but the machine."],
] as const;

export function SortieScreen() {
  const fleet = useQuery({ queryKey: ["fleet"], queryFn: api.fleet, staleTime: Infinity });
  return (
    <Page>
      {fleet.error && <p className="text-caution">▲ {fleet.error.message}</p>}
      {fleet.data && <Setup fleet={fleet.data} />}
    </Page>
  );
}

function Setup({ fleet }: { fleet: Schemas["FleetView"] }) {
  const [s, setS] = useState(() => firstSituation(fleet));
  const navigate = useNavigate();
  const set = (part: Partial<Situation>) => setS((before) => ({ ...before, ...part }));
  const aircraft = fleet.aircraft.find((a) => a.id === s.aircraft)!;
  const place = fleet.places.find((p) => p.id === s.place)!;
  const beginning = aircraft.beginnings.find((x) => x.beginning === s.beginning);
  const [bench, setBench] = useState(false);
  const wrong = badNumber(s);
  const drill = drillOf(s, aircraft);
  const header = headerOf(s, aircraft, place);
  const begin = useMutation({
    mutationFn: () => {
      localStorage.setItem("pilot", s.pilot.trim());
      localStorage.setItem("aircraft", s.aircraft);
      return api.createRun(header);
    },
    onSuccess: ({ id }) => navigate(`/run/${id}`),
  });
  const text = (key: keyof Situation) => ({ name: key, value: String(s[key]), onChange: (e: { target: { value: string } }) => set({ [key]: e.target.value }) });
  return (
    <form
      className="mx-auto grid max-w-6xl gap-4 lg:grid-cols-[1fr_22rem]"
      onSubmit={(e) => {
        e.preventDefault();
        begin.mutate();
      }}
    >
      <div className="flex flex-col gap-4">
        <div>
          <h1 className="text-2xl font-bold">Bring {aircraft.name} to life, alone</h1>
          <p className="mt-1 text-sm text-pale">Set the situation, look at what it changes, begin. The guide says what to do; the judge says what it was worth.</p>
        </div>
        <div role="radiogroup" aria-label="Aircraft" className="grid grid-cols-3 gap-2 sm:grid-cols-4 lg:grid-cols-7">
          {fleet.aircraft.map((a) => (
            <button
              key={a.id}
              type="button"
              role="radio"
              aria-checked={s.aircraft === a.id}
              onClick={() =>
                set({
                  ...jetOf(a),
                  ...(placesOf(fleet, a).includes(place) ? {} : weatherOf(placesOf(fleet, a)[0]!)),
                  beginning: a.beginnings.some((x) => x.beginning === s.beginning) ? s.beginning : "first",
                })
              }
              className={`rounded border px-3 py-1.5 text-left ${s.aircraft === a.id ? "border-heather bg-heather-soft" : "border-line bg-panel hover:bg-raised"}`}
            >
              <b className="block text-sm">{a.name}</b>
              <span className="block text-2xs text-pale">{a.role}</span>
            </button>
          ))}
        </div>
        <div role="radiogroup" aria-label="What to rehearse" className="grid grid-cols-2 gap-2 sm:grid-cols-3">
          {aircraft.beginnings.map((x) => (
            <button
              key={x.beginning}
              type="button"
              role="radio"
              aria-checked={s.beginning === x.beginning}
              onClick={() => set({ beginning: x.beginning as Situation["beginning"] })}
              className={`rounded-lg border p-3 text-left ${s.beginning === x.beginning ? "border-heather bg-heather-soft" : "border-line bg-panel hover:bg-raised"}`}
            >
              <b className="block text-sm">{x.beginning === "air" ? "In the air" : x.beginning === "turnaround" ? "Turnaround start" : "First start"}</b>
              <span className="text-xs text-pale">{beginningWords[x.beginning]}</span>
            </button>
          ))}
        </div>
        <section aria-label="Situation" className="grid grid-cols-2 gap-3 rounded-lg bg-panel p-4 sm:grid-cols-4 lg:grid-cols-5">
          <Field label="Callsign">
            <input className="w-full" maxLength={40} {...text("pilot")} />
          </Field>
          <Field label="Place">
            <Choice value={s.place} onChange={(e) => set(weatherOf(fleet.places.find((p) => p.id === e.target.value)!))} options={placesOf(fleet, aircraft).map((p) => [p.id, p.name] as const)} />
          </Field>
          <Field label="Spot" unit="nose true">
            <Choice {...text("spot")} options={place.spots.map((x) => [x.id, `${x.id} · ${String(Math.round(x.headingDeg)).padStart(3, "0")}°`] as const)} />
          </Field>
          <Field label="Outside air" unit="°C">
            <NumberInput {...text("oatC")} wrong={wrong === "oatC"} />
          </Field>
          <Field label="Sea-level pressure" unit="hPa">
            <NumberInput {...text("qnhHpa")} wrong={wrong === "qnhHpa"} />
          </Field>
          <Field label="Wind from" unit="° true">
            <NumberInput {...text("windFromDeg")} wrong={wrong === "windFromDeg"} />
          </Field>
          <Field label="Wind" unit="kt">
            <NumberInput {...text("windKt")} wrong={wrong === "windKt"} />
          </Field>
          <Field label="Seed" unit="repeats a run">
            <NumberInput {...text("seed")} wrong={wrong === "seed"} />
          </Field>
          {s.beginning !== "air" ? (
            <>
              <Field label="Fuel" unit="lb">
                <NumberInput {...text("fuelLb")} wrong={wrong === "fuelLb"} />
              </Field>
              <Field label="Stores" unit="lb">
                <NumberInput {...text("storesLb")} wrong={wrong === "storesLb"} />
              </Field>
              <Field label="The jet is">
                <Choice {...text("soak")} options={[["soaked", "as the air"], ["hangared", "from a hangar"], ["flown", "just flown"]]} />
              </Field>
              {aircraft.leg && (
                <>
                  <Field label="Leg" unit="NM">
                    <NumberInput {...text("legNm")} wrong={wrong === "legNm"} />
                  </Field>
                  <Field label="Leg takes" unit="min">
                    <NumberInput {...text("legMinutes")} wrong={wrong === "legMinutes"} />
                  </Field>
                  <Field label="Position within" unit="NM">
                    <NumberInput {...text("markNm")} wrong={wrong === "markNm"} />
                  </Field>
                  {storable(s, aircraft) && !place.ship && (
                    <Field label="Last shutdown">
                      <Choice {...text("parked")} options={[["plain", "stored nothing"], ["stored", "stored its heading"]]} />
                    </Field>
                  )}
                </>
              )}
            </>
          ) : drill ? null : (
            <>
              <Field label="Height" unit="ft">
                <NumberInput {...text("heightFt")} wrong={wrong === "heightFt"} />
              </Field>
              <Field label="Airspeed" unit="kt EAS">
                <NumberInput {...text("easKt")} wrong={wrong === "easKt"} />
              </Field>
              <Field label="Flamed out">
                <Choice {...text("dead")} options={[...aircraft.engines.map((e) => [e, e] as const), ["none", "none: all run"]]} />
              </Field>
              {s.dead !== "none" && (
                <Field label="Other engine">
                  <Choice {...text("other")} options={[["lost", "lost"], ["idle", "at idle"]]} />
                </Field>
              )}
            </>
          )}
        </section>
        {s.beginning === "air" && aircraft.drills.length > 0 && (
          <DrillPicker drills={aircraft.drills} chosen={s.drill} seed={Math.abs(Math.round(Number(s.seed))) || 0} onChoose={(id) => set({ drill: id })} />
        )}
        {beginning && beginning.schools.length > 0 && (
          <section aria-label="School" className="grid gap-3 rounded-lg bg-panel p-4 sm:grid-cols-2 lg:grid-cols-3">
            {beginning.schools.map((q) => {
              const chosen = offered(q, s).find((a) => a.id === s.school[q.id]) ?? q.answers[0]!;
              return (
                <Field key={q.id} label={q.question}>
                  <Choice value={chosen.id} onChange={(e) => set({ school: { ...s.school, [q.id]: e.target.value } })} options={offered(q, s).map((a) => [a.id, a.label] as const)} />
                  <span className="mt-1 block text-2xs text-pale">{chosen.reason}</span>
                </Field>
              );
            })}
          </section>
        )}
        {!drill && <FaultPicker faults={aircraft.faults} chosen={s.faults} surprises={s.surprises} onChange={set} />}
      </div>
      <aside className="flex flex-col gap-4">
        <section className="rounded-lg bg-panel p-4">
          <div role="radiogroup" aria-label="How much help" className="flex flex-col gap-1">
            {modes.map(([id, label, what]) => (
              <button
                key={id}
                type="button"
                role="radio"
                aria-checked={s.mode === id}
                onClick={() => set({ mode: id })}
                className={`flex items-baseline gap-2 rounded border px-3 py-1.5 text-left ${s.mode === id ? "border-heather bg-heather-soft" : "border-transparent hover:bg-raised"}`}
              >
                <b className="w-20 text-sm">{label}</b>
                <span className="text-xs text-pale">{what}</span>
              </button>
            ))}
          </div>
          <Button look="primary" size="large" type="submit" className="mt-3 w-full" disabled={begin.isPending || wrong !== null} data-testid="begin">
            Begin
          </Button>
          {s.beginning !== "air" && (
            <Button className="mt-2 w-full" disabled={wrong !== null} onClick={() => setBench(true)}>
              Match my hardware
            </Button>
          )}
          {wrong && <p className="mt-2 text-xs text-caution">▲ {wrong}: a number is needed. Nothing was changed.</p>}
          {begin.error && (
            <p role="alert" className="mt-2 flex gap-1.5 text-xs text-caution">
              <Shape status="caution" /> {begin.error.message}
            </p>
          )}
        </section>
        {/* Of a drill it is told what a sound jet would do: not what will go wrong. */}
        <Outlook header={drill ? { ...header, faults: [] } : header} ok={wrong === null} />
        {s.beginning !== "air" && <BeforeLaunch header={header} ok={wrong === null} />}
        {bench && <HardwareList header={header} onClose={() => setBench(false)} />}
      </aside>
    </form>
  );
}

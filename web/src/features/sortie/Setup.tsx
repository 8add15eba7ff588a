import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useDeferredValue, useState } from "react";
import { FormProvider, useForm, useWatch } from "react-hook-form";
import { api, type RunHeader, type Schemas, type Sortie } from "../../api/client";
import { Button } from "../../ui/button";
import { TextField } from "../../ui/field";
import { Fold } from "../../ui/fold";
import { RadioCards } from "../../ui/radio-cards";
import { Shape } from "../../ui/status";
import { showToast } from "../../ui/toast-store";
import { AircraftPicker } from "./AircraftPicker";
import { BeforeLaunch } from "./BeforeLaunch";
import { DayFields } from "./DayFields";
import { DrillPicker } from "./DrillPicker";
import { FaultPicker } from "./FaultPicker";
import { NumberOf } from "./fields";
import { JetFields, LegFields } from "./JetFields";
import { Outlook } from "./Outlook";
import { Returning } from "./Returning";
import { SchoolChoices } from "./SchoolChoices";
import { drillOf, headerOf, jetOf, placesOf, situationOf, weatherOf, type Situation } from "./situation";
import { isSound, resolverOf } from "./situation-check";
import { useBegin } from "./use-begin";
import { useSettled } from "./use-settled";

// What opens over the form is not needed to draw it.
const HardwareList = lazy(() => import("./HardwareList").then((m) => ({ default: m.HardwareList })));
const KeptSorties = lazy(() => import("./KeptSorties").then((m) => ({ default: m.KeptSorties })));

const beginnings: Record<string, readonly [string, string]> = {
  first: ["First start", "Everything off, everything where it belongs"],
  turnaround: ["Turnaround start", "As the last pilot left it: sweep before power"],
  air: ["In the air", "A dead engine or a fire, against falling height"],
};

const modes = [
  ["guided", "Guided", "The cue is always shown."],
  ["prompted", "Prompted", "A checklist; the cue only when you ask."],
  ["alone", "Alone", "Nothing but the machine."],
] as const;

interface Props {
  fleet: Schemas["FleetView"];
  first: Situation;
  /** The name of the sortie that was taken over. */
  name?: string;
}

/** The form of a sortie, and beside it what today makes of it. */
export function Setup({ fleet, first, name }: Props) {
  const form = useForm<Situation>({ defaultValues: first, resolver: resolverOf(fleet.ranges), mode: "onChange" });
  const { setValue, getValues, reset, register, formState } = form;
  const s = useWatch({ control: form.control }) as Situation;
  const aircraft = fleet.aircraft.find((a) => a.id === s.aircraft)!;
  const place = fleet.places.find((p) => p.id === s.place)!;
  const beginning = aircraft.beginnings.find((x) => x.beginning === s.beginning);
  const drill = drillOf(s, aircraft);
  const header = headerOf(s, aircraft, place);
  const sound = isSound(fleet.ranges, s);
  const [bench, setBench] = useState(false);
  const [kept, setKept] = useState(false);
  const [title, setTitle] = useState(name);
  const begin = useBegin();
  const air = s.beginning === "air";
  // Of a drill it is told what a sound jet would do: not what will go wrong.
  const shown = drill ? { ...header, faults: [] } : header;
  const settled = useDeferredValue(useSettled(JSON.stringify({ ...shown, pilot: "", mode: "guided" }), 350));
  const ahead = useQuery({
    queryKey: ["start-outlook", settled],
    queryFn: ({ signal }) => api.startOutlook(JSON.parse(settled) as RunHeader, signal),
    enabled: sound && !air,
    retry: false,
    placeholderData: (before) => before,
  });
  const choose = (id: string) => {
    const next = fleet.aircraft.find((a) => a.id === id)!;
    reset({
      ...getValues(),
      ...jetOf(next),
      ...(placesOf(fleet, next).includes(place) ? {} : weatherOf(placesOf(fleet, next)[0]!)),
      beginning: next.beginnings.some((x) => x.beginning === s.beginning) ? s.beginning : "first",
    });
  };
  const take = (sortie: Sortie, as?: string) => {
    const situation = situationOf(sortie.header, fleet);
    if (situation) {
      reset(situation);
      setTitle(as);
      setKept(false);
      void form.trigger();
    } else {
      showToast("This sortie is for a type or a place that is not here. Nothing was changed.", "caution");
    }
  };
  const repeat = (run: string) =>
    void api.sortieOfRun(run).then(
      (sortie) => take(sortie),
      (error: Error) => showToast(error.message, "caution"),
    );
  return (
    <FormProvider {...form}>
      <form
        className="mx-auto grid max-w-[110rem] gap-4 lg:grid-cols-[minmax(0,1fr)_22rem] 2xl:grid-cols-[minmax(0,1fr)_28rem]"
        onSubmit={(e) => {
          e.preventDefault();
          void form.trigger().then((right) => right && begin.mutate(header));
        }}
      >
        <div className="flex min-w-0 flex-col gap-3">
          {/* The way past all the fields, for keys: seen only while it has the focus. */}
          <Button
            size="small"
            data-testid="to-begin"
            className="sr-only self-start focus:not-sr-only"
            onClick={() => document.querySelector<HTMLElement>("[data-testid=begin]")?.focus()}
          >
            To Begin
          </Button>
          <div className="flex flex-wrap items-end justify-between gap-3">
            <h1 className="text-2xl font-bold">{title ?? `Bring ${aircraft.name} to life, alone`}</h1>
            <div className="w-36">
              <TextField label="Callsign" maxLength={40} autoComplete="off" {...register("pilot")} />
            </div>
          </div>
          <Returning fleet={fleet} pilot={s.pilot} onRepeat={repeat} onKept={() => setKept(true)} />
          <AircraftPicker fleet={fleet} value={s.aircraft} onChange={choose} />
          <RadioCards
            label="What to rehearse"
            value={s.beginning}
            onChange={(to) => setValue("beginning", to, { shouldValidate: true })}
            className="grid grid-cols-2 gap-2 sm:grid-cols-3"
            cardClassName="px-3 py-2"
            options={aircraft.beginnings.map((x) => ({
              value: x.beginning as Situation["beginning"],
              content: (
                <>
                  <b className="block text-sm">{beginnings[x.beginning]?.[0] ?? x.beginning}</b>
                  <span className="text-xs text-pale">{beginnings[x.beginning]?.[1]}</span>
                </>
              ),
            }))}
          />
          <section aria-label="Situation" className="grid gap-3 rounded-lg bg-panel p-4">
            <DayFields fleet={fleet} aircraft={aircraft} place={place} />
            <JetFields s={s} aircraft={aircraft} place={place} />
          </section>
          {air && aircraft.drills.length > 0 && (
            <DrillPicker
              drills={aircraft.drills}
              chosen={s.drill}
              seed={Math.abs(Math.round(Number(s.seed))) || 0}
              onChoose={(id) => setValue("drill", id, { shouldValidate: true })}
            />
          )}
          {beginning && beginning.schools.length > 0 && (
            <section aria-label="School" className="rounded-lg bg-panel p-4">
              <SchoolChoices
                s={s}
                questions={beginning.schools}
                outlook={air ? undefined : ahead.data}
                priced={!air}
                onChoose={(q, a) => setValue("school", { ...getValues("school"), [q]: a })}
              />
            </section>
          )}
          <section aria-label="Rarely changed" className="flex flex-col gap-2 rounded-lg bg-panel p-4 text-sm">
            {!drill && (
              <Fold title="Faults" testId="faults" startsOpen={s.faults.length > 0} about={faultsInWords(s)}>
                <FaultPicker faults={aircraft.faults} />
              </Fold>
            )}
            {!air && aircraft.leg && (
              <Fold title="What the alignment is wanted for" about={s.legNm ? `${s.legNm} NM in ${s.legMinutes} min, within ${s.markNm} NM` : "nothing said"}>
                <LegFields />
              </Fold>
            )}
            <Fold title="Seed" about={`${s.seed}: the same seed repeats a run`} startsOpen={formState.errors.seed !== undefined}>
              <div className="mt-2 w-40">
                <NumberOf name="seed" label="Seed" unit="whole number" />
              </div>
            </Fold>
          </section>
        </div>
        <aside className="flex min-w-0 flex-col gap-4">
          <section aria-label="Begin" className="rounded-lg bg-panel p-4">
            <RadioCards
              label="How much help"
              value={s.mode}
              onChange={(to) => setValue("mode", to)}
              className="flex flex-col gap-1"
              cardClassName="flex items-baseline gap-2 px-3 py-1.5"
              options={modes.map(([value, label, what]) => ({
                value,
                content: (
                  <>
                    <b className="w-20 text-sm">{label}</b>
                    <span className="text-xs text-pale">{what}</span>
                  </>
                ),
              }))}
            />
            <Button look="primary" size="large" type="submit" className="mt-3 w-full" disabled={begin.isPending || !sound} data-testid="begin">
              Begin
            </Button>
            {!air && (
              <Button className="mt-2 w-full" disabled={!sound} onClick={() => setBench(true)}>
                Match my hardware
              </Button>
            )}
            {!sound && <p className="mt-2 text-xs text-caution">▲ A number is wrong: it is said at its field. Nothing was changed.</p>}
            {begin.error && (
              <p role="alert" className="mt-2 flex gap-1.5 text-xs text-caution">
                <Shape status="caution" /> {begin.error.message}
              </p>
            )}
          </section>
          <Outlook header={shown} ahead={ahead} ok={sound} />
          {!air && <BeforeLaunch header={header} ok={sound} />}
        </aside>
      </form>
      <Suspense>
        {bench && <HardwareList header={header} onClose={() => setBench(false)} />}
        {kept && <KeptSorties fleet={fleet} header={sound ? header : null} pilot={s.pilot.trim()} onTake={(sortie) => take(sortie, sortie.name)} onClose={() => setKept(false)} />}
      </Suspense>
    </FormProvider>
  );
}

function faultsInWords(s: Situation): string {
  const drawn = Number(s.surprises);
  return [s.faults.length === 0 ? "" : s.faults.length === 1 ? "1 chosen" : `${s.faults.length} chosen`, drawn === 0 ? "" : `${drawn} drawn`].filter(Boolean).join(", ") || "none";
}

import type { Schemas } from "../../api/client";
import { ChoiceOf, NumberOf } from "./fields";
import { storable, type Situation } from "./situation";

interface Props {
  s: Situation;
  aircraft: Schemas["AircraftView"];
  place: Schemas["PlaceDefinition"];
}

/** How the jet stands there: on the ground its load and warmth, in the air height, speed and what has failed. */
export function JetFields({ s, aircraft, place }: Props) {
  if (s.beginning === "air") {
    return s.drill ? null : (
      <fieldset aria-label="The jet" className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <NumberOf name="heightFt" label="Height" unit="ft" />
        <NumberOf name="easKt" label="Airspeed" unit="kt EAS" />
        <NumberOf name="fromNm" label="Away from the field" unit="NM" />
        <NumberOf name="groundFt" label="Highest ground" unit="ft" />
        <ChoiceOf name="dead" label="Flamed out" options={[...aircraft.engines.map((e) => [e, e] as const), ["none", "none: all run"]]} />
        {s.dead !== "none" && aircraft.engines.length > 1 && (
          <ChoiceOf
            name="other"
            label="Other engine"
            options={[
              ["lost", "lost"],
              ["idle", "at idle"],
            ]}
          />
        )}
      </fieldset>
    );
  }

  return (
    <fieldset aria-label="The jet" className="grid grid-cols-2 gap-3 sm:grid-cols-4">
      <NumberOf name="fuelLb" label="Fuel" unit="lb" />
      <NumberOf name="storesLb" label="Stores" unit="lb" />
      <ChoiceOf
        name="soak"
        label="Engine temperature"
        options={[
          ["soaked", "as outside"],
          ["hangared", "as a hangar"],
          ["flown", "just flown"],
        ]}
      />
      {storable(s, aircraft) && !place.ship && (
        <ChoiceOf
          name="parked"
          label="Last shutdown"
          options={[
            ["plain", "stored nothing"],
            ["stored", "stored its heading"],
          ]}
        />
      )}
    </fieldset>
  );
}

/** What the alignment is wanted for. */
export function LegFields() {
  return (
    <fieldset aria-label="The leg" className="mt-2 grid grid-cols-3 gap-3">
      <NumberOf name="legNm" label="Leg" unit="NM" />
      <NumberOf name="legMinutes" label="Leg takes" unit="min" />
      <NumberOf name="markNm" label="Position within" unit="NM" />
    </fieldset>
  );
}

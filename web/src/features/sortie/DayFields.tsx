import { useFormContext } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { ChoiceField } from "../../ui/field";
import { ChoiceOf, NumberOf } from "./fields";
import { placesOf, weatherOf, type Situation } from "./situation";

interface Props {
  fleet: Schemas["FleetView"];
  aircraft: Schemas["AircraftView"];
  place: Schemas["PlaceDefinition"];
}

/** Where, and in what weather. Another place brings its usual weather. */
export function DayFields({ fleet, aircraft, place }: Props) {
  const { reset, getValues } = useFormContext<Situation>();
  return (
    <fieldset aria-label="The day" className="grid grid-cols-2 gap-3 sm:grid-cols-3 lg:grid-cols-[1.6fr_1.3fr_1fr_1fr_1fr_1fr_0.9fr]">
      <ChoiceField
        label="Place"
        name="place"
        value={place.id}
        options={placesOf(fleet, aircraft).map((p) => [p.id, p.name] as const)}
        onChange={(to) => reset({ ...getValues(), ...weatherOf(fleet.places.find((p) => p.id === to)!) })}
      />
      <ChoiceOf name="spot" label="Spot" unit="nose true" options={place.spots.map((x) => [x.id, `${x.id} · ${String(Math.round(x.headingDeg)).padStart(3, "0")}°`] as const)} />
      <NumberOf name="oatC" label="Outside air" unit="°C" />
      <NumberOf name="windFromDeg" label="Wind from" unit="° true" />
      <NumberOf name="windKt" label="Wind" unit="kt" />
      <NumberOf name="qnhHpa" label="QNH" unit="hPa" />
      <ChoiceOf
        name="light"
        label="Light"
        options={[
          ["day", "day"],
          ["night", "night"],
        ]}
      />
    </fieldset>
  );
}

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

const bearing = (deg: number) => `${String(Math.round(deg)).padStart(3, "0")}°`;

/** Where, and in what weather. Another place brings its usual weather. */
export function DayFields({ fleet, aircraft, place }: Props) {
  const { reset, getValues } = useFormContext<Situation>();
  // On a ship under way the wind is what its instruments give: over the deck.
  const { ship } = place;
  return (
    <fieldset aria-label="The day" className="grid grid-cols-2 gap-3 sm:grid-cols-3 lg:grid-cols-[2fr_1.1fr_0.95fr_1.05fr_0.95fr_0.95fr_0.9fr]">
      <ChoiceField
        label="Place"
        unit={ship ? `on ${bearing(ship.courseDeg)} at ${ship.speedKt} kt` : undefined}
        name="place"
        value={place.id}
        options={placesOf(fleet, aircraft).map((p) => [p.id, p.name] as const)}
        onChange={(to) => reset({ ...getValues(), ...weatherOf(fleet.places.find((p) => p.id === to)!) })}
      />
      <ChoiceOf name="spot" label="Spot" unit="nose true" options={place.spots.map((x) => [x.id, `${x.id} · ${bearing(x.headingDeg)}`] as const)} />
      <NumberOf name="oatC" label="Outside air" unit="°C" />
      <NumberOf name="windFromDeg" label={ship ? "Deck wind" : "Wind from"} unit="° true" />
      <NumberOf name="windKt" label={ship ? "Deck wind" : "Wind"} unit="kt" />
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

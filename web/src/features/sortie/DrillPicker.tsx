import type { Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { ChoiceField } from "../../ui/field";

interface Props {
  drills: Schemas["AircraftView"]["drills"];
  chosen: string;
  seed: number;
  onChoose: (id: string) => void;
}

/** The drills of the type: chosen by name, or drawn from the seed. What will go wrong is not told. */
export function DrillPicker({ drills, chosen, seed, onChoose }: Props) {
  const about = drills.find((d) => d.id === chosen)?.about;
  return (
    <section aria-label="Drill" className="rounded-lg bg-panel p-4">
      <div className="flex items-end gap-3">
        <div className="min-w-0 flex-1">
          <ChoiceField label="Drill" name="drill" value={chosen} onChange={onChoose} options={[["", "my own situation"], ...drills.map((d) => [d.id, d.title] as const)]} />
        </div>
        <Button onClick={() => onChoose(drills[seed % drills.length]!.id)}>Draw one</Button>
      </div>
      <p className="mt-2 text-xs text-pale">{about ?? "A drill sets height, speed, warmth and what goes wrong, and does not tell it."}</p>
    </section>
  );
}

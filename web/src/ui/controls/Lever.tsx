import { Slider } from "radix-ui";
import { PositionWords } from "./PositionWords";
import type { ControlProps } from "./types";

/** A lever with detents, pushed forward to the right; each detent is also a word to press. */
export function Lever({ control, position, onSet, disabled }: ControlProps) {
  const n = control.positions.length;
  const at = Math.max(0, control.positions.indexOf(position));
  return (
    <div>
      <Slider.Root
        value={[at]}
        min={0}
        max={n - 1}
        step={1}
        disabled={disabled}
        onValueChange={([to]) => to !== undefined && to !== at && onSet(control.positions[to]!)}
        className="relative flex h-6 items-center"
      >
        <Slider.Track className="relative h-1.5 flex-1 rounded bg-high">
          <Slider.Range className="absolute h-full rounded bg-pale" />
        </Slider.Track>
        <Slider.Thumb aria-label={control.label} aria-valuetext={position} className="flex size-6 items-center justify-center rounded">
          <span className="h-6 w-3.5 rounded bg-bone" />
        </Slider.Thumb>
      </Slider.Root>
      <div className="mt-0.5 flex justify-between">
        <PositionWords control={control} position={position} onSet={onSet} disabled={disabled} className="px-1.5 py-0.5 text-2xs" />
      </div>
    </div>
  );
}

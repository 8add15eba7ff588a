import clsx from "clsx";
import { Slider as Radix } from "radix-ui";

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  onChange: (to: number) => void;
  /** What the value means, for who does not see it. */
  words?: string;
  className?: string;
}

/** A value set by drag, arrows, Home and End. */
export function Slider({ label, value, min, max, step, onChange, words, className }: Props) {
  return (
    <Radix.Root
      value={[value]}
      min={min}
      max={max}
      step={step}
      onValueChange={([to]) => to !== undefined && onChange(to)}
      className={clsx("relative flex h-6 items-center", className)}
    >
      <Radix.Track className="relative h-1 flex-1 rounded bg-high">
        <Radix.Range className="absolute h-full rounded bg-pale" />
      </Radix.Track>
      {/* As large as a finger needs; what is seen of it is narrower. */}
      <Radix.Thumb aria-label={label} aria-valuetext={words} className="flex size-6 items-center justify-center rounded">
        <span className="h-4 w-2.5 rounded-sm bg-bone" />
      </Radix.Thumb>
    </Radix.Root>
  );
}

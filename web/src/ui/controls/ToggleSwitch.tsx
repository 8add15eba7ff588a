import { ToggleGroup } from "radix-ui";
import type { ControlProps } from "./types";

/** Stable positions side by side; the one in force is raised. */
export function ToggleSwitch({ control, position, onSet, disabled }: ControlProps) {
  return (
    <ToggleGroup.Root
      type="single"
      value={position}
      disabled={disabled}
      onValueChange={(to) => to && onSet(to)}
      aria-label={control.label}
      className="flex overflow-hidden rounded border border-line"
    >
      {control.positions.map((p) => (
        <ToggleGroup.Item
          key={p}
          value={p}
          className="flex-1 px-2 py-1.5 text-xs text-pale transition-colors duration-(--quick) hover:bg-high data-[state=on]:bg-bone data-[state=on]:font-bold data-[state=on]:text-ground"
        >
          {p}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

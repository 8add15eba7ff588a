import clsx from "clsx";
import { ToggleGroup } from "radix-ui";

interface Props {
  label: string;
  value: string;
  onChange: (to: string) => void;
  options: readonly (readonly [value: string, label: string])[];
  disabled?: boolean;
  className?: string;
}

/** A few short words side by side, one of them in force. */
export function Segments({ label, value, onChange, options, disabled, className }: Props) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      disabled={disabled}
      onValueChange={(to) => to && onChange(to)}
      className={clsx("flex overflow-hidden rounded border border-line", className)}
    >
      {options.map(([v, text]) => (
        <ToggleGroup.Item
          key={v}
          value={v}
          className={clsx(
            "flex-1 px-2 py-1.5 text-xs text-pale transition-colors duration-(--quick) hover:bg-high",
            "data-[state=on]:bg-bone data-[state=on]:font-bold data-[state=on]:text-ground",
          )}
        >
          {text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

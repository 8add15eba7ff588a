import { Check } from "lucide-react";
import { Checkbox } from "radix-ui";

interface Props {
  label: string;
  on: boolean;
  onChange: (on: boolean) => void;
  disabled?: boolean;
}

/** Taken or not, one of many; named for those who do not see what it stands beside. */
export function Tick({ label, on, onChange, disabled }: Props) {
  return (
    <Checkbox.Root
      aria-label={label}
      checked={on}
      onCheckedChange={(to) => onChange(to === true)}
      disabled={disabled}
      className="flex size-6 items-center justify-center rounded disabled:opacity-45 [&>span]:data-[state=checked]:border-heather [&>span]:data-[state=checked]:bg-heather-soft"
    >
      <span className="flex size-4 items-center justify-center rounded-xs border border-pale">
        <Checkbox.Indicator>
          <Check className="size-3 text-bone" aria-hidden />
        </Checkbox.Indicator>
      </span>
    </Checkbox.Root>
  );
}

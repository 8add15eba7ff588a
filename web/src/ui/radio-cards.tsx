import clsx from "clsx";
import { RadioGroup } from "radix-ui";
import type { ReactNode } from "react";

interface Props<T extends string> {
  label: string;
  value: T;
  onChange: (to: T) => void;
  options: readonly { value: T; content: ReactNode }[];
  className?: string;
  /** Of one card. */
  cardClassName?: string;
}

/** One of a few that are all seen. Arrows go from one to the next; Tab passes on. */
export function RadioCards<T extends string>({ label, value, onChange, options, className, cardClassName }: Props<T>) {
  return (
    <RadioGroup.Root aria-label={label} value={value} onValueChange={(to) => onChange(to as T)} className={className}>
      {options.map((o) => (
        <RadioGroup.Item
          key={o.value}
          value={o.value}
          data-card={o.value}
          className={clsx("rounded-lg border text-left", cardClassName, o.value === value ? "border-heather bg-heather-soft" : "border-line bg-panel hover:bg-raised")}
        >
          {o.content}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}

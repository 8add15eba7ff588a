import { Tabs as Radix } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  label: string;
  value: string;
  onChange: (to: string) => void;
  tabs: readonly { value: string; label: string; content: ReactNode }[];
  className?: string;
}

/** One of several views of the same thing; arrows go from tab to tab. */
export function Tabs({ label, value, onChange, tabs, className }: Props) {
  return (
    <Radix.Root value={value} onValueChange={onChange} className={className}>
      <Radix.List aria-label={label} className="flex flex-wrap gap-1">
        {tabs.map((t) => (
          <Radix.Trigger
            key={t.value}
            value={t.value}
            data-tab={t.value}
            className="rounded px-2.5 py-1 text-xs text-pale hover:bg-high data-[state=active]:bg-heather-soft data-[state=active]:text-bone"
          >
            {t.label}
          </Radix.Trigger>
        ))}
      </Radix.List>
      {tabs.map((t) => (
        <Radix.Content key={t.value} value={t.value} tabIndex={-1} className="flex flex-col gap-3">
          {t.content}
        </Radix.Content>
      ))}
    </Radix.Root>
  );
}

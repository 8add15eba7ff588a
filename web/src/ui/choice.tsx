import clsx from "clsx";
import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";
import { pageNonce } from "./nonce";

/** The primitive takes no empty value for an option; a choice of nothing is one here. */
const NOTHING = "∅";

export type Option = readonly [value: string, label: string, note?: string];

interface Props {
  options: readonly Option[];
  value: string;
  onChange: (to: string) => void;
  /** How tests and the browser's own helpers find it. */
  name?: string;
  id?: string;
  "aria-label"?: string;
  "aria-describedby"?: string;
  disabled?: boolean;
  className?: string;
}

/** One of a list, closed until it is asked for. Letters jump to what begins with them. */
export function Choice({ options, value, onChange, name, id, disabled, className, ...aria }: Props) {
  const shown = options.find(([v]) => v === value);
  return (
    <Select.Root value={value || NOTHING} onValueChange={(to) => onChange(to === NOTHING ? "" : to)} disabled={disabled}>
      <Select.Trigger id={id} data-choice={name} data-value={value} className={clsx("field flex w-full items-center gap-1 text-left disabled:opacity-45", className)} {...aria}>
        <span className="min-w-0 flex-1 truncate">
          <Select.Value>{shown?.[1] ?? "–"}</Select.Value>
        </span>
        <ChevronDown className="size-3.5 shrink-0 text-pale" aria-hidden />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={4}
          collisionPadding={8}
          className="z-50 max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) overflow-hidden rounded-lg border border-line bg-panel"
        >
          <Select.Viewport nonce={pageNonce} className="p-1">
            {options.map(([v, label, note]) => (
              <Select.Item
                key={v}
                value={v || NOTHING}
                textValue={label}
                data-option={v}
                className="flex cursor-pointer items-start gap-2 rounded py-1.5 pr-3 pl-1.5 text-sm outline-none data-[highlighted]:bg-heather-soft"
              >
                <span className="w-4 shrink-0 pt-0.5">
                  <Select.ItemIndicator>
                    <Check className="size-3.5 text-heather" aria-hidden />
                  </Select.ItemIndicator>
                </span>
                <Select.ItemText asChild>
                  <span className="min-w-0">
                    {label}
                    {note && <span className="block text-2xs text-pale">{note}</span>}
                  </span>
                </Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}

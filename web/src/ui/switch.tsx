import { Switch as Radix } from "radix-ui";
import { useId } from "react";

/** On or off, said in a word beside it. */
export function Switch({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  const id = useId();
  return (
    <span className="flex items-center gap-1.5 text-2xs text-pale">
      <Radix.Root id={id} checked={on} onCheckedChange={onChange} className="h-4 w-7 shrink-0 rounded-full border border-pale bg-raised p-px data-[state=checked]:bg-heather-soft">
        <Radix.Thumb className="block size-3 rounded-full bg-pale transition-transform duration-(--quick) data-[state=checked]:translate-x-3 data-[state=checked]:bg-bone" />
      </Radix.Root>
      <label htmlFor={id}>{label}</label>
    </span>
  );
}

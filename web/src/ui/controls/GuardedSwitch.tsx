import { LockKeyhole, LockKeyholeOpen } from "lucide-react";
import { useState } from "react";
import { ToggleSwitch } from "./ToggleSwitch";
import type { ControlProps } from "./types";

/** Two acts: lift the guard, then move the switch. The guard falls back when the focus goes elsewhere. */
export function GuardedSwitch(props: ControlProps) {
  const [open, setOpen] = useState(false);
  return (
    <div
      className="flex items-stretch gap-1"
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) {
          setOpen(false);
        }
      }}
    >
      <button
        type="button"
        aria-pressed={open}
        aria-label={`${props.control.label}: ${open ? "lower" : "lift"} the guard`}
        onClick={() => setOpen(!open)}
        className={`rounded border px-2 ${open ? "border-caution text-caution" : "border-line text-pale"}`}
      >
        {open ? <LockKeyholeOpen className="size-4" /> : <LockKeyhole className="size-4" />}
      </button>
      <div className="flex-1">
        <ToggleSwitch {...props} disabled={props.disabled || !open} />
      </div>
    </div>
  );
}

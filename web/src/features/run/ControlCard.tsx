import { Eye, TriangleAlert } from "lucide-react";
import type { ComponentType } from "react";
import type { Control } from "../../api/client";
import { Dial } from "../../ui/controls/Dial";
import { GuardedSwitch } from "../../ui/controls/GuardedSwitch";
import { Knob } from "../../ui/controls/Knob";
import { Lever } from "../../ui/controls/Lever";
import { SprungSwitch } from "../../ui/controls/SprungSwitch";
import { ToggleSwitch } from "../../ui/controls/ToggleSwitch";
import type { ControlProps } from "../../ui/controls/types";
import { useRun, useRunState, useSend, useSignal } from "./context";

const kinds: Record<string, ComponentType<ControlProps>> = {
  toggle: ToggleSwitch,
  guarded: GuardedSwitch,
  sprung: SprungSwitch,
  knob: Knob,
  lever: Lever,
  dial: Dial,
};

/** One control of the aircraft: its name, a button to look at it, its switch. Raised while the cue asks for it. */
export function ControlCard({ control }: { control: Control }) {
  const { connection } = useRun();
  const { cue, ended } = useRunState();
  const send = useSend();
  const value = useSignal(control.id);
  const Kind = kinds[control.kind]!;
  const asked = cue?.act?.target === control.id && connection.snapshot?.header.mode === "guided";
  return (
    <div data-control={control.id} className={`rounded border p-2 ${asked ? "border-heather bg-heather-soft" : "border-transparent bg-raised/60"}`}>
      <div className="mb-1 flex items-center justify-between gap-1">
        <span className="truncate text-xs">{control.label}</span>
        <span className="flex items-center gap-1">
          {control.hazard && (
            <span title={control.hazard} className="text-caution">
              <TriangleAlert className="size-3.5" aria-label={`Caution: ${control.hazard}`} />
            </span>
          )}
          <button
            type="button"
            aria-label={`Look at ${control.label}`}
            title="Look at it and confirm"
            disabled={ended}
            className="rounded p-0.5 text-pale hover:bg-high hover:text-bone"
            onClick={() => send("Look", control.id)}
          >
            <Eye className="size-3.5" />
          </button>
        </span>
      </div>
      <Kind
        control={control}
        position={control.positions[value] ?? ""}
        number={value}
        disabled={ended}
        onSet={(to) => send("Set", control.id, to)}
        onHold={(to) => send("Hold", control.id, to)}
        onRelease={() => send("Release", control.id)}
        onDial={(to) => send("Dial", control.id, to)}
      />
    </div>
  );
}

import { Eye, TriangleAlert } from "lucide-react";
import { ContextMenu } from "radix-ui";
import { memo, type ComponentType } from "react";
import type { Control } from "../../api/client";
import { Dial } from "../../ui/controls/Dial";
import { GuardedSwitch } from "../../ui/controls/GuardedSwitch";
import { Knob } from "../../ui/controls/Knob";
import { Lever } from "../../ui/controls/Lever";
import { SprungSwitch } from "../../ui/controls/SprungSwitch";
import { ToggleSwitch } from "../../ui/controls/ToggleSwitch";
import { Wheels } from "../../ui/controls/Wheels";
import { Hint } from "../../ui/hint";
import type { ControlProps } from "../../ui/controls/types";
import { CallButton } from "./CallButton";
import { InHint } from "./InHint";
import { PositionEntry } from "./PositionEntry";
import { useFlies, useRun, useRunPart, useSend, useSignal } from "./context";
import { useRunUi } from "./run-ui";

const kinds: Record<string, ComponentType<ControlProps>> = {
  toggle: ToggleSwitch,
  guarded: GuardedSwitch,
  sprung: SprungSwitch,
  knob: Knob,
  lever: Lever,
  dial: Dial,
  wheels: Wheels,
};

/** One control of the aircraft: its name, a button to look at it, its switch. Raised while the cue asks for it. */
export const ControlCard = memo(function ControlCard({ control }: { control: Control }) {
  const { connection } = useRun();
  const flies = useFlies();
  const due = useRunPart((s) => s.cue?.act?.target === control.id || s.cue?.act?.with === control.id);
  const send = useSend();
  const value = useSignal(control.id);
  const Kind = kinds[control.wheels ? "wheels" : control.kind];
  const asked = due && connection.snapshot?.header.mode === "guided";
  const ui = useRunUi();
  const card = (
    <div
      data-control={control.id}
      data-why={control.id}
      className={`rounded border p-2 ${control.kind === "position" ? "col-span-2" : ""} ${asked ? "border-heather bg-heather-soft" : "border-transparent bg-raised/60"}`}
    >
      <div className="mb-1 flex items-center justify-between gap-1">
        <InHint of={control.id}>
          <span className="text-xs leading-4">{control.label}</span>
        </InHint>
        <span className="flex items-center gap-1">
          {control.hazard && (
            <Hint text={control.hazard}>
              <span className="text-caution">
                <TriangleAlert className="size-3.5" aria-label={`Caution: ${control.hazard}`} />
              </span>
            </Hint>
          )}
          <Hint text="Look at it and confirm">
            <button
              type="button"
              aria-label={`Look at ${control.label}`}
              disabled={!flies}
              className="rounded p-0.5 text-pale hover:bg-high hover:text-bone"
              onClick={() => send("Look", control.id)}
            >
              <Eye className="size-3.5" />
            </button>
          </Hint>
        </span>
      </div>
      {Kind ? (
        <Kind
          control={control}
          position={control.positions[value] ?? ""}
          number={value}
          disabled={!flies}
          onSet={(to) => send("Set", control.id, to)}
          onHold={(to) => send("Hold", control.id, to)}
          onRelease={() => send("Release", control.id)}
          onDial={(to) => send("Dial", control.id, to)}
        />
      ) : control.kind === "position" ? (
        <PositionEntry control={control} disabled={!flies} />
      ) : (
        <CallButton control={control} disabled={!flies} onAsk={() => send("Set", control.id, "asking")} />
      )}
    </div>
  );
  const item = "cursor-pointer rounded px-3 py-1.5 text-sm outline-none data-[highlighted]:bg-heather-soft";
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger asChild>{card}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-50 min-w-52 rounded-lg border border-line bg-panel p-1" aria-label={control.label}>
          <ContextMenu.Item className={item} onSelect={() => ui.why(control.id)}>
            Why will it not take?
          </ContextMenu.Item>
          <ContextMenu.Item className={item} disabled={!flies} onSelect={() => send("Look", control.id)}>
            Looked at, and right
          </ContextMenu.Item>
          <ContextMenu.Item className={item} disabled={!flies} onSelect={() => ui.report()}>
            Report a fault…
          </ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
});

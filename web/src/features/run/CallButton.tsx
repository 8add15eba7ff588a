import type { Control } from "../../api/client";
import { clock } from "../../ui/format";
import { useRun, useSignal } from "./context";

/** A word to crew or tower: one button that says how it stands with it. Colour and word come from the task that answers. */
export function CallButton({ control, disabled, onAsk }: { control: Control; disabled: boolean; onAsk: () => void }) {
  const { panel } = useRun();
  const task = panel.tasks.find((t) => t.id === control.task);
  const at = useSignal(`${control.task}.state`);
  const since = useSignal(`${control.task}.since`);
  const asking = useSignal(control.id) > 0;
  const state = task?.states[at];
  const word = state?.word ?? "";
  const tone = word === "answered" ? "text-ready" : word === "refused" ? "text-caution" : "text-advisory";
  const tells = word === "" ? (asking ? "nobody hears you" : "") : word === "asked" ? `asked ${clock(since)}` : `${word} ${clock(since)}: ${state?.says ?? ""}`;
  return (
    <div className="flex flex-col gap-1">
      <button
        type="button"
        data-ask={control.task}
        disabled={disabled || word === "answered"}
        aria-label={`${control.label}${tells ? `, ${tells}` : ""}`}
        className="rounded border border-line px-2 py-1.5 text-left text-xs transition-colors duration-(--quick) hover:bg-high disabled:opacity-50"
        onClick={onAsk}
      >
        {word === "refused" ? "Ask again" : word === "answered" ? "Answered" : "Ask"}
      </button>
      {tells && (
        <span className={`text-2xs leading-3.5 ${tone}`} data-call={control.id} role="status">
          {tells}
        </span>
      )}
    </div>
  );
}

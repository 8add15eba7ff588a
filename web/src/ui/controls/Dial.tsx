import { Minus, Plus } from "lucide-react";
import { useState } from "react";
import type { ControlProps } from "./types";

/** A number dialled in: steps by the buttons, arrow keys and wheel, or typed and confirmed with Enter. */
export function Dial({ control, number: value, onDial, disabled }: ControlProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const clamp = (x: number) => Math.min(control.max, Math.max(control.min, x));
  // A multiple of a twentieth is no exact number: as many digits as anybody would type, so that it equals what is typed.
  const step = (by: number) => onDial(clamp(Number((Math.round(value / control.step + by) * control.step).toFixed(6))));
  const confirm = () => {
    const typed = Number(draft?.replace(",", "."));
    if (draft !== null && draft.trim() !== "" && Number.isFinite(typed)) {
      onDial(clamp(typed));
    }

    setDraft(null);
  };
  return (
    <div className="flex items-center gap-1" onWheel={(e) => !disabled && step(e.deltaY < 0 ? 1 : -1)}>
      <button type="button" disabled={disabled} aria-label={`${control.label}: less`} className="rounded border border-line p-1.5 hover:bg-high" onClick={() => step(-1)}>
        <Minus className="size-3.5" />
      </button>
      <input
        aria-label={`${control.label}, ${control.unit}`}
        className="num w-0 min-w-16 flex-1 text-right"
        inputMode="decimal"
        disabled={disabled}
        value={draft ?? String(value)}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={confirm}
        onKeyDown={(e) => {
          if (e.key === "Enter") {
            confirm();
          } else if (e.key === "Escape") {
            setDraft(null);
          } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            e.preventDefault();
            setDraft(null);
            step(e.key === "ArrowUp" ? 1 : -1);
          }
        }}
      />
      <span className="w-9 text-2xs text-pale">{control.unit}</span>
      <button type="button" disabled={disabled} aria-label={`${control.label}: more`} className="rounded border border-line p-1.5 hover:bg-high" onClick={() => step(1)}>
        <Plus className="size-3.5" />
      </button>
    </div>
  );
}

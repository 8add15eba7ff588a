import type { ControlProps } from "./types";

type Props = Pick<ControlProps, "control" | "position" | "onSet" | "disabled"> & { className: string };

/** The positions of a knob or lever in words; each is also a button that goes there. */
export function PositionWords({ control, position, onSet, disabled, className }: Props) {
  return control.positions.map((p) => (
    <button
      key={p}
      type="button"
      disabled={disabled}
      aria-label={`${control.label}: ${p}`}
      aria-pressed={p === position}
      onClick={() => onSet(p)}
      className={`rounded ${className} ${p === position ? "bg-bone font-bold text-ground" : "text-pale hover:bg-high"}`}
    >
      {p}
    </button>
  ));
}

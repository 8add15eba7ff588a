import { Segments } from "../segments";
import type { ControlProps } from "./types";

/** Stable positions side by side; the one in force is raised. */
export function ToggleSwitch({ control, position, onSet, disabled }: ControlProps) {
  return <Segments label={control.label} value={position} onChange={onSet} disabled={disabled} options={control.positions.map((p) => [p, p] as const)} />;
}

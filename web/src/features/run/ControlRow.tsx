import type { Control } from "../../api/client";
import { ControlCard } from "./ControlCard";

/** A few controls side by side, wrapped where they must: one of many positions gets more room for their words. */
export function ControlRow({ controls }: { controls: readonly Control[] }) {
  return (
    <div className="flex flex-wrap gap-2">
      {controls.map((c) => (
        <div
          key={c.id}
          className={`basis-0 *:h-full ${c.kind === "knob" ? "min-w-60" : c.positions.length > 2 || c.kind === "dial" ? "min-w-48" : "min-w-36"}`}
          style={{ flexGrow: 1 + c.positions.length }}
        >
          <ControlCard control={c} />
        </div>
      ))}
    </div>
  );
}

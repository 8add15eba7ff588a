import { useRef } from "react";
import { PositionWords } from "./PositionWords";
import type { ControlProps } from "./types";

const DETENT_PX = 26;

/** Turned by drag, wheel, arrow keys, or by pressing a position's word. Passes through every position on the way. */
export function Knob({ control, position, onSet, disabled }: ControlProps) {
  const n = control.positions.length;
  const at = Math.max(0, control.positions.indexOf(position));
  const drag = useRef<{ y: number; x: number } | null>(null);
  const turn = (by: number) => {
    const to = Math.min(n - 1, Math.max(0, at + by));
    if (to !== at && !disabled) {
      onSet(control.positions[to]!);
    }
  };
  const span = 240 / Math.max(1, n - 1);
  const angle = -120 + at * span;
  return (
    <div className="flex items-center gap-2">
      <div
        role="slider"
        tabIndex={disabled ? -1 : 0}
        aria-label={control.label}
        aria-valuemin={0}
        aria-valuemax={n - 1}
        aria-valuenow={at}
        aria-valuetext={position}
        onKeyDown={(e) => {
          const by = e.key === "ArrowRight" || e.key === "ArrowUp" ? 1 : e.key === "ArrowLeft" || e.key === "ArrowDown" ? -1 : 0;
          if (by) {
            e.preventDefault();
            turn(by);
          }
        }}
        onWheel={(e) => turn(e.deltaY < 0 ? 1 : -1)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerMove={(e) => {
          if (!drag.current) {
            return;
          }

          const moved = e.clientX - drag.current.x - (e.clientY - drag.current.y);
          if (Math.abs(moved) >= DETENT_PX) {
            drag.current = { x: e.clientX, y: e.clientY };
            turn(Math.sign(moved));
          }
        }}
        onPointerUp={() => (drag.current = null)}
        className="size-12 shrink-0 cursor-grab rounded-full"
      >
        <svg viewBox="0 0 48 48" aria-hidden>
          <circle cx="24" cy="24" r="21" className="fill-raised stroke-line" strokeWidth="2" />
          {control.positions.map((p, i) => {
            const a = ((-120 + i * span - 90) * Math.PI) / 180;
            return <circle key={p} cx={24 + 17.5 * Math.cos(a)} cy={24 + 17.5 * Math.sin(a)} r="1.8" className={i === at ? "fill-bone" : "fill-line"} />;
          })}
          <path d="M24 24V11" className="stroke-bone" strokeWidth="4" strokeLinecap="round" transform={`rotate(${angle} 24 24)`} />
        </svg>
      </div>
      <div className="grid flex-1 grid-cols-2 gap-1">
        <PositionWords control={control} position={position} onSet={onSet} disabled={disabled} className="px-1 py-1 text-xs" />
      </div>
    </div>
  );
}

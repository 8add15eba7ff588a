import clsx from "clsx";
import { useEffect, useRef, useState } from "react";
import { takeOtherHand } from "./other-hand";
import type { ControlProps } from "./types";

/**
 * Held by pointer, touch or key (Enter or Space); springs back on release, on leaving and when the page loses focus. Pressed with Shift, the other
 * hand stays on it until the next press of it: what takes both hands can be done with one mouse.
 */
export function SprungSwitch({ control, position, onHold, onRelease, disabled }: ControlProps) {
  const [held, setHeld] = useState<string | null>(null);
  const [kept, setKept] = useState(false);
  const holding = useRef<string | null>(null);
  const giveBack = useRef<(() => void) | null>(null);
  const press = (to: string, otherHand: boolean) => {
    if (giveBack.current) {
      letGo();
    } else if (holding.current === null) {
      holding.current = to;
      setHeld(to);
      onHold(to);
      if (otherHand) {
        giveBack.current = takeOtherHand(() => latest.current());
        setKept(true);
      }
    }
  };
  const letGo = () => {
    giveBack.current?.();
    giveBack.current = null;
    setKept(false);
    if (holding.current !== null) {
      holding.current = null;
      setHeld(null);
      onRelease();
    }
  };
  const release = () => {
    if (!giveBack.current) {
      letGo();
    }
  };
  const latest = useRef(letGo);
  useEffect(() => {
    latest.current = letGo;
  });
  useEffect(() => {
    const leave = () => latest.current();
    window.addEventListener("blur", leave);
    return () => {
      window.removeEventListener("blur", leave);
      leave();
    };
  }, []);

  const sprung = control.positions.filter((p) => control.sprung.includes(p));
  return (
    <div className="flex gap-1" role="group" aria-label={control.label}>
      {sprung.map((p) => (
        <button
          key={p}
          type="button"
          disabled={disabled}
          data-holds
          aria-label={`${control.label}: hold ${p}`}
          aria-pressed={held === p || position === p}
          onPointerDown={(e) => {
            // A finger that stays is a hold here, not the call for a menu.
            e.stopPropagation();
            if (e.button === 0) {
              e.currentTarget.setPointerCapture(e.pointerId);
              press(p, e.shiftKey);
            }
          }}
          onPointerUp={release}
          onPointerCancel={release}
          onContextMenu={(e) => holding.current !== null && e.preventDefault()}
          onKeyDown={(e) => {
            if ((e.key === "Enter" || e.key === " ") && !e.repeat) {
              e.preventDefault();
              press(p, e.shiftKey);
            }
          }}
          onKeyUp={(e) => {
            if (e.key === "Enter" || e.key === " ") {
              e.preventDefault();
              release();
            }
          }}
          // Pressing one of two takes the focus from the other: that lets go of nothing.
          onBlur={() => holding.current === p && release()}
          className={clsx(
            "flex-1 rounded-full border-2 border-dotted px-2 py-1.5 text-xs",
            position === p ? "border-bone bg-bone font-bold text-ground" : "border-line text-pale hover:bg-high",
          )}
        >
          {kept && held === p ? "other hand" : sprung.length > 1 ? `hold ${p}` : "hold"}
        </button>
      ))}
    </div>
  );
}

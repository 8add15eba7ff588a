import { ChevronDown, ChevronUp } from "lucide-react";
import { useRef, type KeyboardEvent } from "react";
import type { ControlProps } from "./types";

const names = ["units", "tens", "hundreds", "thousands"];

/** A whole number dialled figure by figure: each has a wheel that turns round without the next, by its buttons, the mouse's wheel, arrow keys, or the figure typed. */
export function Wheels({ control, number, onDial, disabled }: ControlProps) {
  const wheels = useRef<(HTMLSpanElement | null)[]>([]);
  const figures = String(Math.round(number)).padStart(String(control.max).length, "0").split("").map(Number);
  const within = (at: number, figure: number) => {
    const next = Number(figures.map((f, i) => (i === at ? figure : f)).join(""));
    return next >= control.min && next <= control.max ? next : null;
  };
  const put = (at: number, figure: number) => {
    const next = within(at, figure);
    if (next !== null && next !== number) {
      onDial(next);
    }

    return next !== null;
  };
  // Figures that would lead out of the range are passed over.
  const turn = (at: number, by: number) => {
    let figure = figures[at]!;
    do {
      figure = (figure + by + 10) % 10;
    } while (within(at, figure) === null);
    put(at, figure);
  };
  const onKey = (at: number) => (e: KeyboardEvent) => {
    const to = (other: number) => wheels.current[Math.min(figures.length - 1, Math.max(0, other))]?.focus();
    const moves: Record<string, () => void> = { ArrowUp: () => turn(at, 1), ArrowDown: () => turn(at, -1), ArrowLeft: () => to(at - 1), ArrowRight: () => to(at + 1) };
    const act = /^\d$/.test(e.key) ? () => put(at, Number(e.key)) && to(at + 1) : moves[e.key];
    if (act && !e.ctrlKey && !e.metaKey && !e.altKey) {
      e.preventDefault();
      e.stopPropagation();
      act();
    }
  };
  const step = "flex h-4 w-full items-center justify-center text-pale hover:bg-high hover:text-bone";
  return (
    <div role="group" aria-label={`${control.label}, ${control.unit}`} className="flex items-center gap-1">
      {figures.map((figure, at) => {
        const name = `${control.label}, ${names[figures.length - 1 - at]}`;
        return (
          <span
            key={at}
            ref={(e) => {
              wheels.current[at] = e;
            }}
            role="spinbutton"
            tabIndex={disabled ? -1 : 0}
            aria-label={name}
            aria-valuenow={figure}
            aria-disabled={disabled}
            className="flex w-9 flex-col overflow-hidden rounded border border-line"
            onKeyDown={disabled ? undefined : onKey(at)}
            onWheel={(e) => !disabled && turn(at, e.deltaY < 0 ? 1 : -1)}
          >
            <button type="button" tabIndex={-1} disabled={disabled} aria-label={`${name}: up`} className={step} onClick={() => turn(at, 1)}>
              <ChevronUp className="size-3.5" />
            </button>
            <span className="num border-y border-line text-center text-base leading-6">{figure}</span>
            <button type="button" tabIndex={-1} disabled={disabled} aria-label={`${name}: down`} className={step} onClick={() => turn(at, -1)}>
              <ChevronDown className="size-3.5" />
            </button>
          </span>
        );
      })}
      <span className="w-9 text-2xs text-pale">{control.unit}</span>
    </div>
  );
}

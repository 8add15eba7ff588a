import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Sight } from "../../api/client";
import { NO_SIGNAL, useFlies, useRun, useSend, useSignal } from "../run/context";
import { ControlCard } from "../run/ControlCard";

/** Half the width of the field, mrad. */
const FIELD = 24;

/** The bar is drawn so much more tilted than it is: ten milliradians are hardly seen. */
const TILT = 12;

/** Commands of a moving hand are sent no closer than this, ms. */
const SEND_EVERY = 120;

/** Steps of the dial that one press with Shift turns. */
const COARSE = 6;

type Move = Readonly<Record<string, number>>;

/** Whether the open link shows the task: its switch stands at one of the two positions in which it is adjusted. */
export function useSightOpen(sight: Sight | null | undefined): boolean {
  const { panel } = useRun();
  const control = panel.controls.find((c) => c.id === sight?.control);
  const stands = useSignal(sight?.control ?? NO_SIGNAL);
  const at = control?.positions[stands];
  return sight != null && (at === sight.place || at === sight.turn);
}

/** The helmet sight's task: the cross onto the mark, the bar level, by dragging, by arrow keys or by its dials; then the save key, held. */
export function HelmetSight({ sight }: { sight: Sight }) {
  const { panel } = useRun();
  const card = (id: string) => {
    const control = panel.controls.find((c) => c.id === id);
    return control && <ControlCard key={id} control={control} />;
  };
  return (
    <section aria-label="Helmet sight" data-testid="sight" className="flex flex-col gap-2 rounded-lg border border-line p-2">
      <div className="grid grid-cols-[minmax(11rem,15rem)_minmax(12rem,1fr)] gap-3">
        <Field sight={sight} />
        <div className="flex flex-col gap-2">
          {[sight.control, sight.save].map(card)}
          <Left sight={sight} />
        </div>
      </div>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(10rem,1fr))] gap-2">{[sight.azimuth, sight.elevation, sight.roll].map(card)}</div>
    </section>
  );
}

function useTurning(sight: Sight): boolean {
  const { panel } = useRun();
  const stands = useSignal(sight.control);
  return panel.controls.find((c) => c.id === sight.control)?.positions[stands] === sight.turn;
}

function Field({ sight }: { sight: Sight }) {
  const { panel } = useRun();
  const flies = useFlies();
  const send = useSend();
  const turning = useTurning(sight);
  const dials = { [sight.azimuth]: useSignal(sight.azimuth), [sight.elevation]: useSignal(sight.elevation), [sight.roll]: useSignal(sight.roll) };
  const seen = { x: useSignal("sight.azimuth"), y: useSignal("sight.elevation"), roll: useSignal("sight.roll") };
  // While a hand drags, what it asks for is drawn at once; the dials follow.
  const [asked, setAsked] = useState<Move | null>(null);
  const drag = useRef<{ x: number; y: number; from: Move; sentAt: number; sent: Move } | null>(null);

  const clamped = (id: string, to: number) => {
    const c = panel.controls.find((d) => d.id === id)!;
    return Math.min(c.max, Math.max(c.min, Math.round(to / c.step) * c.step));
  };
  const dialTo = (move: Move, known: Move) => {
    for (const [id, to] of Object.entries(move)) {
      if (to !== known[id]) {
        send("Dial", id, to);
      }
    }
  };

  const down = (e: PointerEvent<HTMLDivElement>) => {
    if (flies && e.button === 0) {
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      drag.current = { x: e.clientX, y: e.clientY, from: dials, sentAt: 0, sent: dials };
    }
  };
  const at = (e: PointerEvent<HTMLDivElement>): Move => {
    const d = drag.current!;
    const scale = (2 * FIELD) / e.currentTarget.clientWidth;
    const [dx, dy] = [(e.clientX - d.x) * scale, (d.y - e.clientY) * scale];
    return turning
      ? { [sight.roll]: clamped(sight.roll, d.from[sight.roll]! + dx) }
      : { [sight.azimuth]: clamped(sight.azimuth, d.from[sight.azimuth]! + dx), [sight.elevation]: clamped(sight.elevation, d.from[sight.elevation]! + dy) };
  };
  const move = (e: PointerEvent<HTMLDivElement>) => {
    const d = drag.current;
    if (!d) {
      return;
    }

    const to = at(e);
    setAsked(to);
    if (e.timeStamp - d.sentAt >= SEND_EVERY) {
      dialTo(to, d.sent);
      drag.current = { ...d, sentAt: e.timeStamp, sent: { ...d.sent, ...to } };
    }
  };
  const up = (e: PointerEvent<HTMLDivElement>) => {
    if (drag.current) {
      dialTo(at(e), drag.current.sent);
      drag.current = null;
      setAsked(null);
    }
  };
  // A touch that the browser takes away leaves the dials where they were last sent.
  const cancel = () => {
    drag.current = null;
    setAsked(null);
  };
  const key = (e: KeyboardEvent<HTMLDivElement>) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowDown: [0, -1], ArrowUp: [0, 1] }[e.key];
    if (!by || !flies || e.altKey || e.ctrlKey || e.metaKey) {
      return;
    }

    e.preventDefault();
    e.stopPropagation();
    const id = turning ? sight.roll : by[0] !== 0 ? sight.azimuth : sight.elevation;
    const step = panel.controls.find((c) => c.id === id)!.step * (e.shiftKey ? COARSE : 1);
    const to = clamped(id, dials[id]! + (by[0]! + by[1]!) * step);
    dialTo({ [id]: to }, dials);
  };

  const ahead = (id: string) => (asked?.[id] === undefined ? 0 : asked[id] - dials[id]!);
  const [x, y, roll] = [seen.x + ahead(sight.azimuth), seen.y + ahead(sight.elevation), seen.roll + ahead(sight.roll)];
  const shown = seen.x < NOTHING;
  const edge = (v: number) => Math.min(FIELD - 2, Math.max(2 - FIELD, v));
  const smooth = asked ? "" : "transition-transform duration-200 ease-linear motion-reduce:transition-none";
  return (
    <div>
      <div
        role="group"
        tabIndex={flies ? 0 : -1}
        aria-label={turning ? "Bar: drag sideways, or turn it by the arrow keys" : "Cross: drag it onto the mark, or move it by the arrow keys"}
        data-testid="sight-field"
        className={`aspect-square w-full touch-none select-none rounded bg-ground ${flies ? "cursor-move" : ""}`}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={cancel}
        onContextMenu={(e) => e.preventDefault()}
        onKeyDown={key}
      >
        <svg
          viewBox={`${-FIELD} ${-FIELD} ${2 * FIELD} ${2 * FIELD}`}
          className="size-full"
          role="img"
          aria-label={shown ? words(x, y, turning ? roll : null) : "Nothing is shown yet: it warms up"}
        >
          {[10, 20].map((r) => (
            <circle key={r} r={r} fill="none" className="stroke-line" strokeWidth="0.2" strokeDasharray="0.8 1.2" />
          ))}
          <circle r={sight.markMrad} fill="none" className="stroke-ready" strokeWidth="0.5" />
          {turning && <path d={`M${-FIELD} 0H${-sight.markMrad - 1}M${sight.markMrad + 1} 0H${FIELD}`} className="stroke-line" strokeWidth="0.3" />}
          {shown && (
            <g className={smooth} style={{ transform: `translate(${edge(x)}px, ${-edge(y)}px) rotate(${turning ? (roll / 1000) * (180 / Math.PI) * TILT : 0}deg)` }}>
              {turning && <path d="M-13 0H-3M3 0H13" className="stroke-bone" strokeWidth="0.7" strokeLinecap="round" />}
              <path d="M-2.4 0H-0.8M0.8 0H2.4M0 -2.4V-0.8M0 0.8V2.4" className="stroke-bone" strokeWidth="0.6" strokeLinecap="round" />
            </g>
          )}
        </svg>
      </div>
      <p className="mt-1 min-h-4 text-2xs text-pale">{shown ? <span className="num">{words(x, y, turning ? roll : null)}</span> : "It warms up."}</p>
    </div>
  );
}

/** From here on a number means nothing. */
const NOTHING = 9999;

function words(x: number, y: number, roll: number | null): string {
  const side = `${Math.abs(x).toFixed(1)} ${x < 0 ? "left" : "right"}`;
  const height = `${Math.abs(y).toFixed(1)} ${y < 0 ? "low" : "high"}`;
  return `${side}, ${height}${roll === null ? "" : `, turned ${Math.abs(roll).toFixed(1)} ${roll < 0 ? "left" : "right"}`}, mrad`;
}

function Left({ sight }: { sight: Sight }) {
  const turning = useTurning(sight);
  const held = useSignal("sight.held");
  const saved = useSignal("sight.saved") > 0.5;
  const residual = useSignal("sight.residual");
  const good = residual <= sight.markMrad;
  return (
    <div className="p-2 text-xs">
      <div className="h-1.5 overflow-hidden rounded bg-raised" role="progressbar" aria-label="Save key held" aria-valuemin={0} aria-valuemax={sight.holdS} aria-valuenow={held}>
        <div className="h-full bg-heather" style={{ width: `${(held / sight.holdS) * 100}%` }} />
      </div>
      <p role="status" data-testid="sight-left" className={`mt-1.5 ${saved ? (good ? "text-ready" : "text-caution") : "text-pale"}`}>
        {saved ? `${good ? "✓" : "▲"} Saved: ${residual.toFixed(1)} mrad left over.${good ? "" : " Once more."}` : `Nothing saved. Hold the key ${sight.holdS} s.`}
      </p>
      <p className="mt-1.5 text-2xs text-pale">
        The ring is {sight.markMrad} mrad. Drag {turning ? "the bar sideways" : "the cross"}, or use the arrow keys on it; with Shift they go {COARSE} times as far.
      </p>
    </div>
  );
}

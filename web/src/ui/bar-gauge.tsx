import type { ComponentPropsWithRef } from "react";
import type { Gauge } from "../api/client";
import { clock, number } from "./format";

const sizes = { normal: { text: "text-base", bar: "h-2.5" }, large: { text: "text-2xl", bar: "h-4" }, huge: { text: "text-4xl", bar: "h-7" } };

interface Props extends ComponentPropsWithRef<"div"> {
  gauge: Pick<Gauge, "label" | "min" | "max" | "normal" | "limits" | "dashFrom">;
  value: number;
  unit: string;
  quantum: number;
  peak?: number;
  ahead?: number;
  /** The least and the most it may be then. */
  aheadRange?: readonly [number, number];
  /** Why nothing can be read on it; undefined where it can. */
  blind?: string | undefined;
  size?: keyof typeof sizes;
  /** The signal that "why" is asked about when the pointer is on it. */
  why?: string;
}

/** A value on a horizontal scale: normal band, limit ticks, live bar, peak tick that stays, hollow tick where it will go. */
export function BarGauge({ gauge, value, unit, quantum, peak, ahead: foretold, aheadRange, blind, size = "normal", why, ...rest }: Props) {
  // What is past or here already is not to come.
  const ahead = foretold !== undefined && foretold > value + 1 ? foretold : undefined;
  const at = (x: number) => `${Math.min(100, Math.max(0, ((x - gauge.min) / (gauge.max - gauge.min)) * 100))}%`;
  // A limit above the normal band is passed upwards, one below it downwards.
  const over = (x: number) => gauge.limits.some((l) => l.kind === "warning" && (gauge.normal && l.at < gauge.normal[0]! ? x > gauge.min && x < l.at : x > l.at));
  // A value that means nothing now is a dash, never the largest number.
  const unsaid = gauge.dashFrom != null && value >= gauge.dashFrom;
  const silent = blind !== undefined || unsaid;
  // Minutes and more read as a clock.
  const asClock = unit === "s" && gauge.max >= 120;
  const shown = asClock ? clock(value) : number(value, quantum);
  const limit = gauge.limits.find((l) => l.kind === "warning") ?? gauge.limits[0];
  const hot = over(value);
  const aheadHot = ahead !== undefined && over(ahead);
  return (
    <div
      {...rest}
      role="meter"
      data-why={why}
      aria-label={gauge.label}
      aria-valuemin={gauge.min}
      aria-valuemax={gauge.max}
      aria-valuenow={Math.min(gauge.max, Math.max(gauge.min, value))}
      aria-valuetext={blind ?? (unsaid ? "nothing to tell" : `${shown} ${asClock ? "" : unit}`)}
      className="min-w-0"
    >
      <div className="flex items-baseline justify-between gap-2">
        <span className="truncate text-xs text-pale">{gauge.label}</span>
        <span className={`num whitespace-nowrap ${sizes[size].text} ${hot ? "text-warning" : ""}`}>
          {blind ? <span className="text-xs text-pale">{blind}</span> : unsaid ? <span className="text-pale">–</span> : shown}
          {!silent && !asClock && <span className="ml-1 text-2xs text-pale">{unit}</span>}
        </span>
      </div>
      <div className={`relative mt-0.5 overflow-hidden rounded-sm bg-raised ${sizes[size].bar}`}>
        {gauge.normal && <div className="absolute inset-y-0 bg-band" style={{ left: at(gauge.normal[0]!), right: `calc(100% - ${at(gauge.normal[1]!)})` }} />}
        {!silent && <div className={`absolute top-[22%] bottom-[22%] left-0 ${hot ? "bg-warning" : "bg-bone"}`} style={{ width: at(value) }} />}
        {gauge.limits.map((l) => (
          <div key={l.label} className={`absolute inset-y-0 w-0.5 ${l.kind === "warning" ? "bg-warning" : "bg-caution"}`} style={{ left: at(l.at) }} />
        ))}
        {!silent && ahead !== undefined && aheadRange && (
          <div
            className={`absolute inset-y-[38%] ${aheadHot ? "bg-warning" : "bg-bone"} opacity-40`}
            style={{ left: at(aheadRange[0]), right: `calc(100% - ${at(aheadRange[1])})` }}
            data-testid="ahead-range"
          />
        )}
        {!silent && peak !== undefined && peak > gauge.min && (
          <div className="absolute inset-y-0 w-1 bg-heather" style={{ left: `calc(${at(peak)} - 2px)` }} data-testid="peak-tick" />
        )}
        {!silent && ahead !== undefined && (
          <div className={`absolute inset-y-0 w-2 border-2 ${aheadHot ? "border-warning" : "border-bone"}`} style={{ left: `calc(${at(ahead)} - 4px)` }} data-testid="ahead-tick" />
        )}
      </div>
      {(limit || peak !== undefined) && (
        <div className="mt-0.5 flex justify-between gap-2 text-2xs text-pale">
          <span className="truncate">{limit ? `${limit.label} ${number(limit.at, 1)}` : ""}</span>
          <span className="num whitespace-nowrap">
            {peak !== undefined && !silent && <>peak {number(peak, quantum)}</>}
            {ahead !== undefined && !silent && <span className={aheadHot ? "ml-2 text-warning" : "ml-2"}>to come {number(ahead, quantum)}</span>}
          </span>
        </div>
      )}
    </div>
  );
}

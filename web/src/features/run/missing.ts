import type { Cue } from "../../api/live";
import type { RunConnection } from "../../api/run-connection";
import { number } from "../../ui/format";

type Wait = Pick<Cue["waiting"][number], "signal" | "label" | "test">;

/** How near a wait is to what it asks for, 0 to 1; nothing where it asks for no number to be reached. */
export function share(connection: RunConnection, { signal, test }: Wait): number | undefined {
  const [, asked] = /^\s*>=?\s*([\d.]+)$/.exec(test) ?? [];
  return asked === undefined ? undefined : Math.max(0, Math.min(1, connection.value(signal) / Number(asked)));
}

/** A guided cue whose time has not come: what it waits for, and how far that is. */
export function notYet(connection: RunConnection, cue: Cue): string | undefined {
  if (cue.kind !== "ready" || connection.snapshot?.header.mode !== "guided") {
    return undefined;
  }
  const wait = cue.waiting[0];
  return wait ? `Not yet: ${missing(connection, wait)}; now ${reading(connection, wait.signal)}` : "Not yet";
}

/** A signal in words: its number and unit, its position, yes or no. */
export function reading(connection: RunConnection, signal: string): string {
  const value = connection.value(signal);
  const info = connection.info(signal);
  if (info?.kind === "positions") {
    return info.positions[value] ?? "";
  }
  return info?.kind === "number" ? `${number(value, info.quantum)} ${info.unit}`.trimEnd() : value > 0.5 ? "yes" : "not yet";
}

/** What a wait is for, in words: what is read, and what it must come to. */
export function missing(connection: RunConnection, { signal, label, test }: Wait): string {
  const info = connection.info(signal);
  const unit = info?.kind === "number" && /\d$/.test(test) ? ` ${info.unit}` : "";
  return `${label}${test}${unit}`.replace(">=", "≥").replace("<=", "≤").trimEnd();
}

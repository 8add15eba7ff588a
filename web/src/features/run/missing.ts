import type { Cue } from "../../api/live";
import type { RunConnection } from "../../api/run-connection";

/** What a wait is for, in words: what is read, and what it must come to. */
export function missing(connection: RunConnection, { signal, label, test }: Pick<Cue["waiting"][number], "signal" | "label" | "test">): string {
  const info = connection.info(signal);
  const unit = info?.kind === "number" && /\d$/.test(test) ? ` ${info.unit}` : "";
  return `${label}${test}${unit}`.replace(">=", "≥").replace("<=", "≤").trimEnd();
}

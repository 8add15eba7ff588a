import type { Panel } from "../../api/client";

/** A gauge's label without the engine that it ends with: what is said once for all of them. */
export function withoutEngine(label: string, engines: Panel["engines"]): string {
  const engine = engines.find((e) => label.toLowerCase().endsWith(` ${e.label.toLowerCase()}`));
  return engine ? label.slice(0, -engine.label.length - 1) : label;
}

import type { Panel } from "../../api/client";

/** The link of the chain that a control, signal or lamp belongs to. */
export function linkOf(panel: Panel, name: string): string | undefined {
  const direct =
    panel.controls.find((c) => c.id === name)?.link ?? panel.gauges.find((g) => g.signal === name)?.link ?? panel.lamps.find((l) => `lamp.${l.id}` === name)?.link;
  if (direct) {
    return direct;
  }

  const family = name.split(".")[0]!;
  const prefixes: Record<string, string> = { bus: "buses", caution: "buses", aux: "auxiliary", fire: "auxiliary", task: "pressure", crew: "core", box: "boxes", ins: "alignment", air: "air" };
  return panel.gauges.find((g) => g.signal.startsWith(`${family}.`))?.link ?? prefixes[family];
}

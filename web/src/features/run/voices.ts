import type { Panel } from "../../api/client";
import type { RunConnection } from "../../api/run-connection";

/** Something said or sounded around the jet. */
export interface Call {
  who: "Crew" | "Tower" | "Announcer" | "Voice" | "Sound";
  text: string;
  tone?: string;
}

/** Hears the machine: tells of every answer of crew and tower, every zone called, every lamp that calls for attention. */
export function hear(connection: RunConnection, panel: Panel, say: (call: Call) => void): () => void {
  const offs: (() => void)[] = [];
  // Only what changes is said: what stood already when the page came, or after a lost connection, is old news.
  const onChange = (signal: string, then: (value: number) => void) => {
    let last = connection.value(signal);
    offs.push(
      connection.onSignal(signal, () => {
        const value = connection.value(signal);
        if (value !== last) {
          last = value;
          then(value);
        }
      }),
    );
  };
  for (const c of panel.crew) {
    const who = c.who === "tower" ? "Tower" : "Crew";
    onChange(`crew.${c.id}`, (yes) => yes > 0 && say({ who, text: c.answer }));
    onChange(`crew.${c.id}.refused`, (no) => {
      const reason = connection.value(`crew.${c.id}.reason`);
      if (no > 0) {
        say({ who, text: c.obstacles?.[reason - 1]?.says ?? c.refusal });
      }
    });
  }

  onChange("fire.zone", (zone) => zone > 0 && say({ who: "Announcer", text: `Fire, ${panel.fireZones[zone - 1]}` }));
  onChange("caution.calls", () => {
    const lamp = panel.lamps[connection.value("caution.caller") - 1];
    if (lamp?.tone || lamp?.speech) {
      say({ who: "Voice", text: lamp.speech ?? lamp.label, tone: lamp.tone ?? undefined });
    }
  });
  return () => offs.forEach((off) => off());
}

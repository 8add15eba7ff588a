import type { Panel } from "../../api/client";
import type { RunConnection } from "../../api/run-connection";

/** Something said or sounded around the jet. */
export interface Call {
  who: "Crew" | "Tower" | "Voice" | "Sound";
  text: string;
  tone?: string;
}

const voices: Record<string, Call["who"]> = { crew: "Crew", tower: "Tower", voice: "Voice", sound: "Sound" };

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
  for (const task of panel.tasks) {
    const who = voices[task.who ?? ""];
    if (who) {
      onChange(`${task.id}.state`, (state) => {
        const says = task.states[state]?.says;
        if (says) {
          say({ who, text: says });
        }
      });
    }
  }

  onChange("caution.calls", () => {
    const lamp = panel.lamps[connection.value("caution.caller") - 1];
    if (lamp?.tone || lamp?.speech) {
      say({ who: "Voice", text: lamp.speech ?? lamp.label, tone: lamp.tone ?? undefined });
    }
  });
  return () => offs.forEach((off) => off());
}

import { useEffect, useRef } from "react";
import { showToast } from "../../ui/toast-store";
import { useRun } from "./context";
import { pressCue } from "./cue-act";
import type { RunUi } from "./run-ui";

export const keyList: [string, string][] = [
  ["Space", "Do what the cue asks; hold it where a hold is due"],
  ["Shift", "With a press on what is held: the other hand stays on it until the next press"],
  ["/", "Command line: type part of a control's name and a position"],
  [", .", "To the link of the chain before this one, and to the next"],
  ["w", "Why will it not take: what is under the focus or pointer, else the cue"],
  ["r", "Report a fault to the crew"],
  ["c", "Throttle to cut-off on the engine in its start cycle"],
  ["p", "Pause and go on"],
  ["1 2 3 4", "Rate ×1, ×2, ×4, ×8"],
  ["[ ]", "Back 10 s, back 30 s, as a fork from there"],
  ["Tab", "To the next control; arrow keys, Enter and Space work it"],
];

interface Options {
  onKeyList: () => void;
  onCommandLine: () => void;
  onBack: (seconds: number) => void;
  ui: RunUi;
}

/** The keys of a run. A control that was reached by Tab keeps its own keys. */
export function useKeys({ onKeyList, onCommandLine, onBack, ui }: Options) {
  const { connection, panel } = useRun();
  const letGo = useRef<(() => void) | null>(null);
  const callbacks = useRef({ onKeyList, onCommandLine, onBack, ui });
  useEffect(() => {
    callbacks.current = { onKeyList, onCommandLine, onBack, ui };
  });

  useEffect(() => {
    const fail = (error: Error) => showToast(error.message, "caution");
    const busy = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      return at.closest("input, textarea, select, [role=dialog]") !== null;
    };
    // A control reached by Tab keeps its own keys; one that was only clicked does not, whatever key came since.
    let tabbed = false;
    const own = (e: KeyboardEvent) =>
      (tabbed || (e.target as HTMLElement).dataset.own !== undefined) && (e.target as HTMLElement).matches("button, a, [role=slider], [role=button]");
    const point = () => (tabbed = false);
    const release = () => {
      letGo.current?.();
      letGo.current = null;
    };
    const cutOff = () => {
      // The lever of the engine that is between crank and idle; never one that runs.
      const side = panel.engines.find(
        (e) => connection.value(`${e.id}.start-cycle`) > 0 || (connection.value(`${e.id}.n2`) < 0.9 * e.idleN2Pct && connection.position(e.throttle) !== e.cutOff),
      );
      if (side) {
        void connection.send("Set", side.throttle, side.cutOff).catch(fail);
      } else {
        showToast("No engine is in its start cycle.");
      }
    };
    const down = (e: KeyboardEvent) => {
      tabbed ||= e.key === "Tab";
      if (e.ctrlKey || e.metaKey || e.altKey || busy(e)) {
        return;
      }

      // Who looks on may ask, not act.
      if (connection.role === "look" && !["w", "?", ",", "."].includes(e.key)) {
        return;
      }

      if (e.key === " ") {
        if (own(e)) {
          return;
        }

        e.preventDefault();
        const act = connection.state.cue?.act;
        const may = connection.state.cue?.kind === "act" || connection.state.cue?.kind === "ready";
        if (e.repeat || letGo.current || !act || !may || connection.snapshot?.header.mode === "alone") {
          return;
        }

        letGo.current = pressCue(connection, fail);
        return;
      }

      if (e.repeat) {
        return;
      }

      const rates: Record<string, number> = { "1": 1, "2": 2, "3": 4, "4": 8 };
      if (rates[e.key]) {
        void connection.send("Rate", rates[e.key]).catch(fail);
      } else if (e.key === "p") {
        void connection.send("Pause", !connection.state.paused).catch(fail);
      } else if (e.key === "c") {
        cutOff();
      } else if (e.key === "w") {
        e.preventDefault();
        callbacks.current.ui.why();
      } else if (e.key === "r") {
        e.preventDefault();
        callbacks.current.ui.report();
      } else if (e.key === "/") {
        e.preventDefault();
        callbacks.current.onCommandLine();
      } else if (e.key === "[" || e.key === "]") {
        callbacks.current.onBack(e.key === "[" ? 10 : 30);
      } else if (e.key === "," || e.key === ".") {
        callbacks.current.ui.step(e.key === "," ? -1 : 1);
      } else if (e.key === "?") {
        callbacks.current.onKeyList();
      }
    };
    const up = (e: KeyboardEvent) => {
      if (e.key === " " && letGo.current) {
        e.preventDefault();
        release();
      }
    };
    window.addEventListener("pointerdown", point, true);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", release);
    return () => {
      window.removeEventListener("pointerdown", point, true);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", release);
      release();
    };
  }, [connection, panel]);
}

import { createContext, useCallback, useContext, useSyncExternalStore } from "react";
import type { Panel } from "../../api/client";
import type { RunConnection, RunState } from "../../api/run-connection";
import { showToast } from "../../ui/toast-store";

export interface Run {
  connection: RunConnection;
  panel: Panel;
}

export const RunContext = createContext<Run | null>(null);

export function useRun(): Run {
  const run = useContext(RunContext);
  if (!run) {
    throw new Error("no run around this component");
  }

  return run;
}

/** The name of no signal: always 0, and never told about. */
export const NO_SIGNAL = "";

/** Current value of a signal; the component renders again only when it changes. */
export function useSignal(name: string): number {
  const { connection } = useRun();
  const subscribe = useCallback((listener: () => void) => connection.onSignal(name, listener), [connection, name]);
  return useSyncExternalStore(subscribe, () => connection.value(name));
}

/** Whether the cockpit can be read: by day always, at night while a light of its own has power. */
export function useLit(): boolean {
  const { connection } = useRun();
  const told = connection.snapshot!.header.conditions.night === true && connection.info("cockpit.lit") !== undefined;
  return useSignal(told ? "cockpit.lit" : NO_SIGNAL) > 0.5 || !told;
}

/** Something of several signals; the component renders again only when that changes. */
function useOf<T extends number | string>(names: readonly string[], of: (values: number[]) => T): T {
  const { connection } = useRun();
  const all = names.join(" ");
  const subscribe = useCallback(
    (listener: () => void) => {
      const ends = all
        .split(" ")
        .filter(Boolean)
        .map((name) => connection.onSignal(name, listener));
      return () => ends.forEach((end) => end());
    },
    [connection, all],
  );
  return useSyncExternalStore(subscribe, () => of(names.map((name) => connection.value(name))));
}

/** The largest of several signals, 0 where there are none. */
export const useLargest = (names: readonly string[]) => useOf(names, (values) => Math.max(0, ...values));

/** The longest of several waits in whole seconds, 0 where there are none. */
export const useLongest = (names: readonly string[]) => useOf(names, (values) => Math.floor(Math.max(0, ...values)));

/** Several flags: which of them are set, one character each. */
export const useFlags = (names: readonly string[]) => useOf(names, (values) => values.map((v) => (v > 0.5 ? "1" : "0")).join(""));

/** Run time in whole seconds; the component renders again once a second of it. */
export function useSeconds(): number {
  const { connection } = useRun();
  const subscribe = useCallback((listener: () => void) => connection.onSignal("time", listener), [connection]);
  return useSyncExternalStore(subscribe, () => Math.floor(connection.time));
}

/** One part of the run's state; the component renders again only when that part changes. */
export function useRunPart<T>(part: (state: RunState) => T): T {
  const { connection } = useRun();
  return useSyncExternalStore(connection.onState, () => part(connection.state));
}

/** Whether hands may do anything here: the run goes on, and this page flies it. */
export function useFlies(): boolean {
  const { connection } = useRun();
  const ended = useRunPart((s) => s.ended);
  return !ended && connection.role === "fly";
}

/** Sends a command and shows what is wrong with it, if anything is. */
export function useSend() {
  const { connection } = useRun();
  return useCallback(
    (...args: Parameters<RunConnection["send"]>) => {
      void connection.send(...args).catch((error: Error) => showToast(error.message, "caution"));
    },
    [connection],
  );
}

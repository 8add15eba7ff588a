import type { RunHeader } from "./client";

/** What the hub sends; the C# side of these is Live/Frames.cs. */
export interface Frame {
  t: number;
  rate: number;
  paused: boolean;
  ended: boolean;
  /** Pairs of signal index and value in the signal's quantum. */
  s: number[];
  cue?: Cue;
  done?: string;
  actions?: Action[];
}

export interface SignalInfo {
  name: string;
  unit: string;
  quantum: number;
  kind: "number" | "flag" | "positions";
  positions: string[];
}

export interface Act {
  kind: "set" | "hold" | "look" | "watch";
  target?: string;
  to?: string;
  circle: boolean;
  number?: number;
}

export interface Cue {
  kind: "act" | "ready" | "watch" | "wait" | "finished";
  id: string;
  text: string;
  why: string;
  hazard?: string;
  drill: boolean;
  act?: Act;
  watch: string[];
  waiting: { signal: string; label: string; test: string; link?: string }[];
  running: { id: string; text: string; left?: string }[];
  left?: string;
  /** The link of the chain where hands or eyes are wanted. */
  link?: string;
}

export interface Action {
  t: number;
  kind: string;
  target: string;
  position?: string;
  number?: number;
}

export interface Step {
  id: string;
  cue: string;
  why: string;
  hazard?: string;
  optional: boolean;
}

export interface Snapshot {
  id: string;
  header: RunHeader;
  title: string;
  phases: { id: string; title: string; steps: Step[] }[];
  signals: SignalInfo[];
  frame: Frame;
  history: { hz: number; values: Record<string, number[]> };
  fresh: boolean;
  parent?: string;
}

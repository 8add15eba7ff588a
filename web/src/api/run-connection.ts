import { HubConnectionBuilder, HubConnectionState, LogLevel, type HubConnection } from "@microsoft/signalr";
import type { Action, Cue, Frame, SignalInfo, Snapshot } from "./live";

export type Link = "connecting" | "live" | "lost" | "gone";

/** What changes rarely; components read it whole. */
export interface RunState {
  link: Link;
  error: string;
  rate: number;
  paused: boolean;
  ended: boolean;
  cue: Cue | null;
  /** The cue has only just come: nobody can have read it, so a press now was meant for the one before. */
  cueIsNew: boolean;
  done: string;
  actions: Action[];
}

/** One signal recorded for the traces, at most ten points a second. */
export interface Trace {
  t: number[];
  values: Map<string, number[]>;
}

const TRACE_GAP = 0.1;

/** Nobody answers sooner than this what they have only now seen, ms. */
const UNREAD_MS = 200;

/**
 * A page's end of a live run: keeps the current value of every signal, tells only those who asked about a signal when it
 * changes, and comes back by itself after a lost connection.
 */
export class RunConnection {
  readonly values: number[] = [];
  readonly index = new Map<string, number>();
  readonly trace: Trace = { t: [], values: new Map() };
  snapshot: Snapshot | null = null;
  state: RunState = { link: "connecting", error: "", rate: 1, paused: false, ended: false, cue: null, cueIsNew: false, done: "", actions: [] };
  time = 0;
  private readonly hub: HubConnection;
  private readonly signalListeners = new Map<string, Set<() => void>>();
  private readonly stateListeners = new Set<() => void>();
  private closed = false;
  private reading = 0;

  constructor(readonly id: string) {
    this.hub = new HubConnectionBuilder()
      .withUrl("/hub/run")
      .withAutomaticReconnect({ nextRetryDelayInMilliseconds: (c) => Math.min(300 * (c.previousRetryCount + 1), 2000) })
      .configureLogging(LogLevel.None)
      .build();
    this.hub.serverTimeoutInMilliseconds = 8000;
    this.hub.keepAliveIntervalInMilliseconds = 2500;
    this.hub.on("frame", (frame: Frame) => this.take(frame));
    this.hub.onreconnecting(() => this.change({ link: "lost" }));
    this.hub.onreconnected(() => void this.join(!this.state.paused));
    this.hub.onclose(() => this.closed || this.change({ link: "lost" }));
  }

  async open() {
    while (!this.closed) {
      try {
        await this.hub.start();
        await this.join(false);
        return;
      } catch {
        if (this.closed) {
          return;
        }

        this.change({ link: "lost" });
        await new Promise((done) => setTimeout(done, 700));
      }
    }
  }

  close() {
    this.closed = true;
    clearTimeout(this.reading);
    if (this.hub.state === HubConnectionState.Connected) {
      void this.hub.invoke("Leave", this.id).catch(() => undefined).finally(() => void this.hub.stop());
    } else {
      void this.hub.stop();
    }
  }

  private async join(resume: boolean) {
    try {
      const snapshot = await this.hub.invoke<Snapshot>("Join", this.id, resume);
      this.snapshot = snapshot;
      snapshot.signals.forEach((s, i) => this.index.set(s.name, i));
      this.trace.t = [];
      this.trace.values.clear();
      for (const [name, values] of Object.entries(snapshot.history.values)) {
        this.trace.values.set(name, [...values]);
        this.trace.t = values.map((_, i) => i / snapshot.history.hz);
      }

      this.state = { ...this.state, actions: [] };
      this.take(snapshot.frame);
      this.change({ link: "live", error: "" });
    } catch (error) {
      this.change({ link: "gone", error: words(error) });
    }
  }

  private take(frame: Frame) {
    if (!this.snapshot) {
      return;
    }

    this.time = frame.t;
    const touched: string[] = ["time"];
    for (let k = 0; k < frame.s.length; k += 2) {
      const i = frame.s[k]!;
      const signal = this.snapshot.signals[i]!;
      this.values[i] = signal.kind === "number" ? round(frame.s[k + 1]! * signal.quantum) : frame.s[k + 1]!;
      touched.push(signal.name);
    }

    this.record(frame.t);
    // Who asked about ten signals that change together is told once.
    const told = new Set<() => void>();
    for (const name of touched) {
      this.signalListeners.get(name)?.forEach((listener) => told.add(listener));
    }

    told.forEach((listener) => listener());

    const s = this.state;
    if (frame.cue || frame.done || frame.actions || frame.rate !== s.rate || frame.paused !== s.paused || frame.ended !== s.ended) {
      // The same step turning from "next" to "now" is what the hands were waiting for: that is not new.
      const isNew = s.cue !== null && frame.cue !== undefined && frame.cue.id !== s.cue.id;
      if (isNew) {
        clearTimeout(this.reading);
        this.reading = setTimeout(() => this.change({ cueIsNew: false }), UNREAD_MS);
      }

      this.change({
        rate: frame.rate,
        paused: frame.paused,
        ended: frame.ended,
        cue: frame.cue ?? s.cue,
        cueIsNew: isNew || s.cueIsNew,
        done: frame.done ?? s.done,
        actions: frame.actions ? merge(s.actions, frame.actions) : s.actions,
      });
    }
  }

  private record(t: number) {
    const last = this.trace.t.at(-1);
    if (last !== undefined && t - last < TRACE_GAP) {
      return;
    }

    this.trace.t.push(t);
    for (const [name, values] of this.trace.values) {
      values.push(this.values[this.index.get(name)!] ?? 0);
    }
  }

  private change(part: Partial<RunState>) {
    this.state = { ...this.state, ...part };
    this.stateListeners.forEach((listener) => listener());
  }

  onState = (listener: () => void) => {
    this.stateListeners.add(listener);
    return () => this.stateListeners.delete(listener);
  };

  onSignal(name: string, listener: () => void) {
    let set = this.signalListeners.get(name);
    if (!set) {
      this.signalListeners.set(name, (set = new Set()));
    }

    set.add(listener);
    return () => set.delete(listener);
  }

  value(name: string): number {
    return this.values[this.index.get(name) ?? -1] ?? 0;
  }

  info(name: string): SignalInfo | undefined {
    return this.snapshot?.signals[this.index.get(name) ?? -1];
  }

  position(control: string): string {
    return this.info(control)?.positions[this.value(control)] ?? "";
  }

  /** Sends a command; resolves when it has been stored and applied. */
  send(method: "Set" | "Dial" | "Hold" | "Release" | "Look" | "Report" | "End" | "Rate" | "Pause", ...args: unknown[]): Promise<void> {
    return this.hub.invoke<unknown>(method, this.id, ...args).then(
      () => undefined,
      (error: unknown) => {
        throw new Error(words(error));
      },
    );
  }
}

function merge(before: Action[], after: Action[]): Action[] {
  // The first frame after joining repeats what the snapshot already held.
  const known = new Set(before.map((a) => `${a.t}/${a.kind}/${a.target}/${a.position ?? a.number ?? ""}`));
  return [...before, ...after.filter((a) => !known.has(`${a.t}/${a.kind}/${a.target}/${a.position ?? a.number ?? ""}`))];
}

const round = (x: number) => Math.round(x * 1e4) / 1e4;

/** The hub wraps its message; what is left is "field: what is wrong". */
function words(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error);
  const at = text.indexOf("HubException: ");
  return at >= 0 ? text.slice(at + 14) : text;
}

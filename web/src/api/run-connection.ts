import { HubConnectionBuilder, HubConnectionState, LogLevel, type HubConnection } from "@microsoft/signalr";
import { askForToken } from "./client";
import { FrameOrder } from "./frame-order";
import type { Ack, Action, Cue, Frame, Role, SignalInfo, Snapshot } from "./live";

export type Link = "connecting" | "live" | "catching-up" | "lost" | "gone";

/** A step that is not done, and one that was so before anybody did anything. */
export const OPEN = "0";
export const WAS_SO = "2";

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
  /** One character a step, see {@link OPEN} and {@link WAS_SO}; anything else is done. */
  done: string;
  actions: Action[];
  /** Commands that were sent and whose effect has not come yet. */
  pending: number;
  /** Share of the replay that is done while the run is opened; 0 before it began. */
  opening: number;
  /** Why the run does not keep its time; empty where it does. */
  trouble: string;
}

/** One signal recorded for the traces, at most ten points a second. */
export interface Trace {
  t: number[];
  values: Map<string, number[]>;
}

const TRACE_GAP = 0.1;

/** Points kept of the traces: twenty minutes as they come, and what the server sent of the past. */
const MOST_POINTS = 16_000;

/** Actions kept for the tape; the debrief has all. */
const MOST_ACTIONS = 1500;

/** How long a missing frame is waited for before the whole state is asked for, ms. */
const GAP_MS = 250;

/** Both sides give a sign of life so often, ms. */
const ALIVE_MS = 1000;

/** A server silent for so long is lost, until it has said how long it is borne, ms. */
const SILENCE_MS = 10_000;

/** A join that was refused for now is tried again after this, ms. */
const AGAIN_MS = 1000;

/** Nobody answers sooner than this what they have only now seen, ms. */
const UNREAD_MS = 200;

/**
 * A page's end of a live run: keeps the current value of every signal, tells only those who asked about a signal when it
 * changes, and comes back by itself after a lost connection.
 */
export class RunConnection {
  readonly values: number[] = [];
  readonly index = new Map<string, number>();
  /** Every step of the procedure, in its order. */
  steps: readonly Snapshot["phases"][number]["steps"][number][] = [];
  readonly trace: Trace = { t: [], values: new Map() };
  snapshot: Snapshot | null = null;
  state: RunState = { link: "connecting", error: "", rate: 1, paused: false, ended: false, cue: null, cueIsNew: false, done: "", actions: [], pending: 0, opening: 0, trouble: "" };
  time = 0;
  private readonly hub: HubConnection;
  private readonly order = new FrameOrder();
  private readonly signalListeners = new Map<string, Set<() => void>>();
  private readonly stateListeners = new Set<() => void>();
  private readonly awaited: { n: number; come: () => void }[] = [];
  private closed = false;
  private stopping: Promise<unknown> = Promise.resolve();
  private again = 0;
  private alive = 0;
  private reading = 0;
  private gap = 0;
  private actionsFrom = 0;

  constructor(
    readonly id: string,
    readonly role: Role = "fly",
  ) {
    this.hub = new HubConnectionBuilder()
      .withUrl("/hub/run")
      .withAutomaticReconnect({ nextRetryDelayInMilliseconds: (c) => Math.min(300 * (c.previousRetryCount + 1), 2000) })
      .configureLogging(LogLevel.None)
      .build();
    this.hub.serverTimeoutInMilliseconds = SILENCE_MS;
    this.hub.keepAliveIntervalInMilliseconds = ALIVE_MS;
    this.hub.on("opening", (run: string, share: number) => run === this.id && this.change({ opening: share }));
    this.hub.on("frame", (run: string, frame: Frame) => run === this.id && this.take(frame));
    this.hub.onreconnecting(() => this.lose());
    this.hub.onreconnected(() => void this.join(!this.state.paused));
    this.hub.onclose(() => this.closed || this.lose());
  }

  private lose() {
    clearTimeout(this.again);
    this.order.forget();
    this.awaited.splice(0).forEach((a) => a.come());
    this.change({ link: "lost" });
  }

  /** Joins the run, and tries until it succeeds or is closed. May be opened again after it was closed. */
  async open() {
    this.closed = false;
    await this.stopping; // a page that comes back from the browser's cache may still be closing its line
    this.order.forget(); // another connection: the run may have been put away, and counts its states anew
    while (!this.closed) {
      try {
        await this.hub.start();
        await this.join(false);
        return;
      } catch (error) {
        if (this.closed) {
          return;
        }

        if (String(error).includes("401")) {
          askForToken();
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
    clearTimeout(this.gap);
    clearTimeout(this.again);
    const left = this.hub.state === HubConnectionState.Connected ? this.hub.invoke("Leave", this.id).catch(() => undefined) : Promise.resolve();
    this.stopping = left.finally(() => this.hub.stop());
  }

  private async join(resume: boolean) {
    try {
      this.begin(await this.hub.invoke<Snapshot>("Join", this.id, this.role, resume));
    } catch (error) {
      const told = toldBy(error);
      if (told && !told.later) {
        this.change({ link: "gone", error: told.text });
      } else if (!this.closed && this.hub.state === HubConnectionState.Connected) {
        // What stands in the way may be gone in a moment: a locked logbook, a full queue. A lost line comes back by itself.
        this.change({ link: "lost", error: told?.text ?? "" });
        clearTimeout(this.again);
        this.again = setTimeout(() => void this.join(resume), AGAIN_MS);
      }
    }
  }

  /** Takes the whole state: after joining, and where a frame is missing. */
  private begin(snapshot: Snapshot) {
    this.hub.serverTimeoutInMilliseconds = snapshot.silenceS * 1000;
    const due = this.order.begin(snapshot.frame.n);
    if (due === null) {
      this.change({ link: "live", error: "" });
      return;
    }

    this.snapshot = snapshot;
    this.steps = snapshot.phases.flatMap((p) => p.steps);
    snapshot.signals.forEach((s, i) => this.index.set(s.name, i));
    this.trace.t = [...snapshot.history.t];
    this.trace.values.clear();
    for (const [name, values] of Object.entries(snapshot.history.values)) {
      this.trace.values.set(name, [...values]);
    }

    this.state = { ...this.state, actions: [] };
    this.actionsFrom = snapshot.frame.actionsFrom ?? 0;
    this.apply([snapshot.frame, ...due]);
    this.change({ link: "live", error: "" });
  }

  // What was sent while the way back was lost, or overtaken on the way: the whole is asked for again.
  private async catchUp() {
    this.change({ link: "catching-up" });
    try {
      this.begin(await this.hub.invoke<Snapshot>("State", this.id));
    } catch {
      // The connection is lost as well; it joins anew when it is back.
    }
  }

  private take(frame: Frame) {
    // A browser slows the timers of a hidden page, and its sign of life with them. It does not slow what comes over the line.
    const now = performance.now();
    if (now - this.alive > ALIVE_MS && this.hub.state === HubConnectionState.Connected) {
      this.alive = now;
      void this.hub.send("Alive").catch(() => undefined);
    }

    this.apply(this.order.take(frame));
    if (this.snapshot && this.order.gap) {
      this.gap ||= setTimeout(() => {
        this.gap = 0;
        if (this.order.gap && !this.closed) {
          void this.catchUp();
        }
      }, GAP_MS);
    }
  }

  private apply(frames: Frame[]) {
    for (const frame of frames) {
      this.show(frame);
    }

    if (frames.length > 0) {
      const due = this.awaited.filter((a) => a.n <= this.order.number);
      due.forEach((a) => {
        this.awaited.splice(this.awaited.indexOf(a), 1);
        a.come();
      });
    }
  }

  private show(frame: Frame) {
    this.time = frame.t;
    const touched: string[] = ["time"];
    for (let k = 0; k < frame.s.length; k += 2) {
      const i = frame.s[k]!;
      const signal = this.snapshot!.signals[i]!;
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
    const trouble = frame.trouble ?? "";
    if (!frame.cue && !frame.done && !frame.actions && frame.rate === s.rate && frame.paused === s.paused && frame.ended === s.ended && trouble === s.trouble) {
      return;
    }

    // The same step turning from "next" to "now" is what the hands were waiting for: that is not new.
    const isNew = s.cue !== null && !!frame.cue && frame.cue.id !== s.cue.id;
    if (isNew) {
      clearTimeout(this.reading);
      this.reading = 0;
      // Read from when it is drawn, not from when it came: a busy page draws late.
      const id = frame.cue!.id;
      requestAnimationFrame(() => {
        if (!this.closed && this.reading === 0 && this.state.cue?.id === id) {
          this.reading = setTimeout(() => this.change({ cueIsNew: false }), UNREAD_MS);
        }
      });
    }

    this.change({
      rate: frame.rate,
      paused: frame.paused,
      ended: frame.ended,
      trouble,
      cue: frame.cue ?? s.cue,
      cueIsNew: isNew || s.cueIsNew,
      done: frame.done ?? s.done,
      actions: frame.actions ? this.withActions(frame.actions, frame.actionsFrom ?? 0) : s.actions,
    });
  }

  // They are numbered from the beginning of the run: what is here already is not added again.
  private withActions(added: Action[], from: number): Action[] {
    const all = [...this.state.actions.slice(0, from - this.actionsFrom), ...added];
    if (all.length <= MOST_ACTIONS) {
      return all;
    }

    this.actionsFrom += all.length - MOST_ACTIONS;
    return all.slice(-MOST_ACTIONS);
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

    if (this.trace.t.length > MOST_POINTS) {
      const cut = MOST_POINTS / 4;
      this.trace.t.splice(0, cut);
      this.trace.values.forEach((values) => values.splice(0, cut));
    }
  }

  private change(part: Partial<RunState>) {
    this.state = { ...this.state, ...part };
    this.stateListeners.forEach((listener) => listener());
  }

  /** Number of the state on the screen. */
  get frame() {
    return this.order.number;
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

  /** Sends a command; resolves when it has been stored and applied, and what it did is on the screen. */
  async send(method: "Set" | "Dial" | "Hold" | "Release" | "Look" | "Report" | "End" | "Do" | "Rate" | "Pause", ...args: unknown[]): Promise<Ack | null> {
    if (this.hub.state !== HubConnectionState.Connected) {
      throw new Error(LOST);
    }

    this.change({ pending: this.state.pending + 1 });
    try {
      const ack = await this.hub.invoke<Ack | null>(method, this.id, ...args);
      if (ack && ack.n > this.order.number) {
        await new Promise<void>((come) => this.awaited.push({ n: ack.n, come }));
      }

      return ack;
    } catch (error) {
      const told = toldBy(error);
      if (told?.later) {
        // The run may have been put away: joined again, it is as it is stored, and counts its states anew.
        const resume = !this.state.paused;
        this.lose();
        void this.join(resume);
      }

      throw new Error(told?.text ?? UNANSWERED, { cause: error });
    } finally {
      this.change({ pending: this.state.pending - 1 });
    }
  }
}

const round = (x: number) => Math.round(x * 1e4) / 1e4;

const LOST = "The connection to the server is lost: nothing was moved.";
const UNANSWERED = "The connection was lost before the server answered. When it is back, the page shows what became of it.";

/** What the server said, without the wrapping of its library; null where something else went wrong. "Later" is what may be asked again in a moment. */
function toldBy(error: unknown): { text: string; later: boolean } | null {
  const text = error instanceof Error ? error.message : String(error);
  const mark = "HubException: ";
  const at = text.indexOf(mark);
  const told = at >= 0 ? text.slice(at + mark.length) : "";
  const later = told.startsWith("later: ");
  return told ? { text: later ? told.slice("later: ".length) : told, later } : null;
}

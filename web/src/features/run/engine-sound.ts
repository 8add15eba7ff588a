import type { Panel } from "../../api/client";
import type { RunConnection } from "../../api/run-connection";
import { audio, volume } from "./sound";

/** Fundamental of the spool's whine at full speed, Hz. */
const WHINE_HZ = 2400;
const AIR_HZ = 900;
const TICK_S = 0.14;

/** What is heard of an engine now; all from 0 to 1 but the speed, in percent. */
interface Heard {
  n2: number;
  air: number;
  flame: number;
  ticks: boolean;
  generator: boolean;
}

/** The words for what began or ended to be heard; a caption stands beside every sound. */
export function newSounds(before: Heard, now: Heard, name: string): string | null {
  if (now.air > 0.2 && before.air <= 0.2) {
    return `${name}: air rushes in`;
  }

  if (now.ticks && !before.ticks) {
    return `${name}: the igniter ticks`;
  }

  if (now.flame > 0.1 && before.flame <= 0.1) {
    return `${name}: a soft thump, it burns`;
  }

  if (now.generator && !before.generator) {
    return `${name}: the generator hums`;
  }

  return before.n2 > 5 && now.n2 <= 5 && now.flame < 0.1 ? `${name}: it winds down` : null;
}

export function heard(c: RunConnection, id: string, duct: number): Heard {
  const n2 = c.value(`${id}.n2`);
  const cranked = c.value(`${id}.starter-valve`) > 0.5;
  const lit = c.value(`${id}.lit`) > 0.5;
  return {
    n2,
    air: cranked ? Math.min(1, duct) : 0,
    flame: lit ? Math.min(1, 0.3 + n2 / 100) : 0,
    ticks: cranked && !lit && c.value(`${id}.fuel-valve`) > 0.5,
    generator: c.value(`${id}.generator`) > 0.5,
  };
}

class EngineVoice {
  private readonly out: GainNode;
  private readonly whine: OscillatorNode;
  private readonly whineGain: GainNode;
  private readonly airGain: GainNode;
  private readonly roarGain: GainNode;
  private readonly roar: BiquadFilterNode;
  private readonly hum: OscillatorNode;
  private readonly humGain: GainNode;
  private readonly noise: AudioBufferSourceNode;
  private nextTick = 0;

  constructor(
    private readonly context: AudioContext,
    pan: number,
  ) {
    this.out = new GainNode(context, { gain: 0 });
    this.out.connect(new StereoPannerNode(context, { pan })).connect(context.destination);
    this.whine = new OscillatorNode(context, { type: "sawtooth", frequency: 20 });
    this.whineGain = new GainNode(context, { gain: 0 });
    this.whine
      .connect(new BiquadFilterNode(context, { type: "lowpass", frequency: 3200 }))
      .connect(this.whineGain)
      .connect(this.out);
    this.noise = new AudioBufferSourceNode(context, { buffer: noise(context), loop: true });
    this.airGain = new GainNode(context, { gain: 0 });
    this.noise
      .connect(new BiquadFilterNode(context, { type: "bandpass", frequency: AIR_HZ, Q: 0.6 }))
      .connect(this.airGain)
      .connect(this.out);
    this.roar = new BiquadFilterNode(context, { type: "lowpass", frequency: 200 });
    this.roarGain = new GainNode(context, { gain: 0 });
    this.noise.connect(this.roar).connect(this.roarGain).connect(this.out);
    this.hum = new OscillatorNode(context, { type: "triangle", frequency: 400 });
    this.humGain = new GainNode(context, { gain: 0 });
    this.hum.connect(this.humGain).connect(this.out);
    this.whine.start();
    this.noise.start();
    this.hum.start();
  }

  follow(now: Heard, loud: number) {
    const t = this.context.currentTime;
    const to = (param: AudioParam, value: number) => param.setTargetAtTime(value, t, 0.06);
    to(this.out.gain, loud * 0.5);
    to(this.whine.frequency, Math.max(20, (now.n2 / 100) * WHINE_HZ));
    to(this.whineGain.gain, Math.min(0.12, (now.n2 / 100) * 0.16));
    to(this.airGain.gain, now.air * 0.35);
    to(this.roar.frequency, 120 + now.n2 * 9);
    to(this.roarGain.gain, now.flame * 0.5);
    to(this.humGain.gain, now.generator ? 0.03 : 0);
    if (now.ticks && t >= this.nextTick) {
      this.nextTick = t + TICK_S;
      const tick = new OscillatorNode(this.context, { type: "square", frequency: 1900 });
      const gain = new GainNode(this.context, { gain: 0.2 });
      gain.gain.exponentialRampToValueAtTime(0.001, t + 0.02);
      tick.connect(gain).connect(this.out);
      tick.start(t);
      tick.stop(t + 0.025);
    }
  }

  stop() {
    this.out.gain.setTargetAtTime(0, this.context.currentTime, 0.05);
    for (const source of [this.whine, this.hum, this.noise]) {
      source.stop(this.context.currentTime + 0.3);
    }
  }
}

function noise(context: AudioContext): AudioBuffer {
  const buffer = context.createBuffer(1, context.sampleRate * 2, context.sampleRate);
  const data = buffer.getChannelData(0);
  for (let i = 0; i < data.length; i++) {
    data[i] = Math.random() * 2 - 1;
  }

  return buffer;
}

/** Sounds the engines from their state, each on its side, and tells in words what begins to be heard. */
export function soundEngines(connection: RunConnection, panel: Panel, caption: (text: string) => void): () => void {
  const fullDuct = Math.max(1, panel.gauges.find((g) => g.signal === "air.duct")?.max ?? 60) * 0.75;
  const electric = !panel.gauges.some((g) => g.signal === "air.duct");
  const engines = panel.engines;
  const duct = () => (electric ? 0.4 : connection.value("air.duct") / fullDuct);
  const last = new Map(engines.map((e) => [e.id, heard(connection, e.id, duct())]));
  const voices = new Map<string, EngineVoice>();
  const off = connection.onSignal("time", () => {
    const loud = connection.state.paused || connection.state.ended ? 0 : volume();
    for (const e of engines) {
      const now = heard(connection, e.id, duct());
      const words = newSounds(last.get(e.id)!, now, panel.engines.length > 1 ? `${e.label} engine` : "Engine");
      last.set(e.id, now);
      if (words) {
        caption(words);
      }

      if (!voices.has(e.id) && loud > 0 && (now.n2 > 0.5 || now.air > 0)) {
        const context = audio();
        voices.set(e.id, new EngineVoice(context, e.lateral));
      }

      voices.get(e.id)?.follow(now, loud);
    }
  });
  return () => {
    off();
    voices.forEach((v) => v.stop());
  };
}

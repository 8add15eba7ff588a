import { recall, remember } from "../../ui/stored";
import type { Call } from "./voices";

const KEY = "volume";
let context: AudioContext | undefined;

/** Volume from 0 (mute) to 1; mute where nobody listens: a browser driven by a test. */
export const volume = () => Math.min(1, Math.max(0, Number(recall(KEY, navigator.webdriver ? "0" : "0.6")) || 0));

export function setVolume(to: number) {
  remember(KEY, String(to));
  if (to === 0) {
    window.speechSynthesis?.cancel();
  }
}

/** The one audio context of the page; it sleeps until something is heard. */
export function audio(): AudioContext {
  context ??= new AudioContext();
  void context.resume();
  return context;
}

/** Each tone is a few notes: frequency in Hz, beginning and length in s. */
const tones: Record<string, { wave: OscillatorType; notes: [number, number, number][] }> = {
  chime: {
    wave: "sine",
    notes: [
      [784, 0, 0.18],
      [587, 0.16, 0.3],
    ],
  },
  siren: {
    wave: "triangle",
    notes: [
      [520, 0, 0.22],
      [830, 0.22, 0.22],
      [520, 0.44, 0.22],
      [830, 0.66, 0.22],
    ],
  },
};

/** Sounds a call's tone and speaks its words, as loud as chosen. */
export function utter(call: Call) {
  const loud = volume();
  if (loud <= 0) {
    return;
  }

  const tone = call.tone && tones[call.tone];
  if (tone) {
    play(tone, loud);
  }

  if (typeof SpeechSynthesisUtterance !== "undefined" && window.speechSynthesis) {
    const words = new SpeechSynthesisUtterance(call.text);
    words.volume = loud;
    words.rate = 1.1;
    words.lang = "en";
    window.speechSynthesis.speak(words);
  }
}

function play({ wave, notes }: (typeof tones)[string], loud: number) {
  const context = audio();
  for (const [hz, from, length] of notes) {
    const at = context.currentTime + from;
    const note = new OscillatorNode(context, { type: wave, frequency: hz });
    const gain = new GainNode(context, { gain: 0 });
    gain.gain.setValueAtTime(0, at);
    gain.gain.linearRampToValueAtTime(0.25 * loud, at + 0.015);
    gain.gain.exponentialRampToValueAtTime(0.001, at + length);
    note.connect(gain).connect(context.destination);
    note.start(at);
    note.stop(at + length + 0.02);
  }
}

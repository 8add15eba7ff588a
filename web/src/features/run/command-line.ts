import type { Control, Fault } from "../../api/client";

/** Something the typed words could mean. */
export interface Suggestion {
  verb: "set" | "hold" | "release" | "look" | "report" | "why";
  target: string;
  position?: string;
  number?: number;
  /** A hold that lets go by itself after so many seconds of the run. */
  seconds?: number;
  label: string;
}

export interface Vocabulary {
  controls: readonly Control[];
  /** Readings and lamps that can be looked at or asked about. */
  readings: readonly { name: string; label: string }[];
  faults: readonly Fault[];
}

const verbs: Record<string, Suggestion["verb"]> = { look: "look", report: "report", why: "why", release: "release", hold: "hold" };

const wordsOf = (label: string, id: string) => `${label} ${id}`.toLowerCase().split(/[\s.,:/-]+/);
/** How well words name a thing: by its very name, by how its label begins, or by parts of it. */
const closeness = (label: string, id: string, words: string[]) =>
  id.replaceAll(/[.-]/g, " ") === words.join(" ") ? 0.4 : label.toLowerCase().startsWith(words.join(" ")) ? 0.2 : 0;
const takes = (name: string[], words: string[]) => words.every((w) => name.some((n) => n.startsWith(w)));

/** Every act that the typed words could mean, best first. */
export function suggest(vocabulary: Vocabulary, text: string): Suggestion[] {
  let words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) {
    return [];
  }

  const verb = verbs[words[0]!];
  if (verb && verb !== "hold") {
    words = words.slice(1);
    return words.length === 0 ? [] : named(vocabulary, verb, words);
  }

  if (verb === "hold") {
    words = words.slice(1);
  }

  const timed = /^(\d+(?:[.,]\d+)?)s$/.exec(words.at(-1) ?? "");
  const seconds = timed ? Number(timed[1]!.replace(",", ".")) : undefined;
  if (timed) {
    words = words.slice(0, -1);
  }

  return words.length === 0 ? [] : acts(vocabulary.controls, words, seconds);
}

function named({ controls, readings, faults }: Vocabulary, verb: Suggestion["verb"], words: string[]): Suggestion[] {
  if (verb === "report") {
    // A word of the fault's own name counts more than one of the place it may sit in.
    const own = (f: Fault) => words.filter((w) => takes(wordsOf(f.label, ""), [w])).length;
    return [...faults]
      .sort((a, b) => own(b) - own(a))
      .flatMap((f) => (f.places.length > 0 ? f.places : [undefined]).map((place) => ({ f, place })))
      .filter(({ f, place }) => takes(wordsOf(f.label, `${f.code} ${place ?? ""}`), words))
      .map(({ f, place }) => ({ verb, target: f.code, position: place, label: `Report: ${f.label}${place ? `, ${place.replaceAll("-", " ")}` : ""}` }));
  }

  const all = [...controls.map((c) => ({ name: c.id, label: c.label })), ...(verb === "release" ? [] : readings)];
  const label = { look: "Look at", why: "Why:", release: "Let go:" }[verb as "look" | "why" | "release"];
  return all
    .filter((x) => takes(wordsOf(x.label, x.name), words))
    .sort((a, b) => closeness(b.label, b.name, words) - closeness(a.label, a.name, words))
    .map((x) => ({ verb, target: x.name, label: `${label} ${x.label}` }));
}

function acts(controls: readonly Control[], words: string[], seconds?: number): Suggestion[] {
  const found: (Suggestion & { score: number })[] = [];
  const last = words.at(-1)!;
  const before = words.slice(0, -1);
  for (const control of controls) {
    const name = wordsOf(control.label, control.id);
    const number = Number(last.replace(",", "."));
    if (control.kind === "position") {
      // The name, then the position as it is typed: from the first figure, or letter of a hemisphere before one.
      const from = words.findIndex((w, i) => i > 0 && (/^[ns]?\d/.test(w) || w === "spot" || (/^[ns]$/.test(w) && /^\d/.test(words[i + 1] ?? ""))));
      if (takes(name, from < 0 ? words : words.slice(0, from))) {
        const position = from < 0 ? "spot" : words.slice(from).join(" ");
        found.push({
          verb: "set",
          target: control.id,
          position,
          label: `${control.label} → ${position === "spot" ? "the spot’s" : position.toUpperCase()}`,
          score: from < 0 ? 1 : 2,
        });
      }

      continue;
    }

    if (control.kind === "dial") {
      if (before.length > 0 && Number.isFinite(number) && takes(name, before)) {
        found.push({ verb: "set", target: control.id, number, label: `${control.label} → ${number} ${control.unit}`, score: 2 + closeness(control.label, control.id, before) });
      }

      continue;
    }

    const offered = control.positions.filter((p) => control.sprung.length === 0 || control.sprung.includes(p));
    for (const position of offered) {
      const held = control.sprung.includes(position);
      const act = {
        verb: held ? ("hold" as const) : ("set" as const),
        target: control.id,
        position,
        seconds: held ? seconds : undefined,
        label: `${control.label} → ${position}${held ? (seconds === undefined ? " (held until “release”)" : `, held ${seconds} s`) : ""}`,
      };
      if (before.length > 0 && takes(name, before) && position.startsWith(last)) {
        found.push({ ...act, score: (position === last ? 3 : 2) + closeness(control.label, control.id, before) });
      } else if (takes(name, words)) {
        found.push({ ...act, score: (held && offered.length === 1 ? 1.5 : 1) + closeness(control.label, control.id, words) });
      }
    }
  }

  return found.sort((a, b) => b.score - a.score);
}

/** What was perhaps meant, where nothing fits: the controls whose names come nearest, or the positions of the one named. */
export function nearest({ controls }: Vocabulary, text: string): string {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const named = controls.filter((c) => words.length > 1 && takes(wordsOf(c.label, c.id), words.slice(0, -1)));
  if (named[0]) {
    const c = named[0];
    return c.kind === "dial" ? `${c.label} takes a number from ${c.min} to ${c.max} ${c.unit}.` : `${c.label} has no “${words.at(-1)}”: it has ${c.positions.join(", ")}.`;
  }

  const far = (c: Control) => Math.min(...wordsOf(c.label, c.id).map((n) => distance(n, words[0]!)));
  const close = [...controls].sort((a, b) => far(a) - far(b)).slice(0, 3);
  return `Nothing is called “${text.trim()}”. Perhaps ${close.map((c) => c.label).join(", ")}?`;
}

/** Letters to change, add or take away (Levenshtein). */
function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      next.push(Math.min(next[j - 1]! + 1, row[j]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)));
    }

    row = next;
  }

  return row[b.length]!;
}

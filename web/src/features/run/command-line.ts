import type { Control } from "../../api/client";

export interface Suggestion {
  control: Control;
  position?: string;
  number?: number;
}

/** Every control and position that the typed words could mean, best first. */
export function suggest(controls: Control[], text: string): Suggestion[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) {
    return [];
  }

  const found: (Suggestion & { score: number })[] = [];
  for (const control of controls) {
    const name = `${control.label} ${control.id}`.toLowerCase().split(/[\s-]+/);
    const takes = (word: string) => name.some((n) => n.startsWith(word));
    const last = words.at(-1)!;
    const number = Number(last.replace(",", "."));
    if (control.kind === "dial") {
      if (words.length > 1 && Number.isFinite(number) && words.slice(0, -1).every(takes)) {
        found.push({ control, number, score: 2 });
      }

      continue;
    }

    const full = words.slice(0, -1).every(takes) && words.length > 1;
    for (const position of control.positions) {
      if (full && position.startsWith(last)) {
        found.push({ control, position, score: position === last ? 3 : 2 });
      } else if (words.every(takes)) {
        found.push({ control, position, score: 1 });
      }
    }
  }

  return found.sort((a, b) => b.score - a.score);
}

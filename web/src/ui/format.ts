/** Seconds as mm:ss. */
export function clock(seconds: number): string {
  const s = Math.max(0, Math.floor(seconds));
  return `${String(Math.floor(s / 60)).padStart(2, "0")}:${String(s % 60).padStart(2, "0")}`;
}

/** A value with as many decimals as its quantum carries. */
export function number(value: number, quantum: number): string {
  const decimals = quantum >= 1 ? 0 : quantum >= 0.1 ? 1 : quantum >= 0.01 ? 2 : 3;
  return value
    .toFixed(decimals)
    .replace(/^-(0(\.0*)?)$/, "$1")
    .replace(/\B(?=(\d{3})+(?!\d))/g, decimals === 0 ? "\u202f" : "");
}

/** How much more or less than another it is, with its sign; nothing where they are the same or one is unknown. */
export function difference(x: number | null | undefined, to: number | null | undefined, unit: string): string {
  const d = x === null || x === undefined || to === null || to === undefined ? 0 : Math.round(x - to);
  return d === 0 ? "" : `${d > 0 ? "+" : "−"}${Math.abs(d)}${unit}`;
}

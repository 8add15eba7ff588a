/**
 * What this device remembers. A browser may forbid it (blocked storage, a full one): then nothing is remembered, and nothing breaks.
 * What an older version left and what nobody understands any more counts as nothing.
 */
export function recall(key: string, otherwise: string, known?: readonly string[]): string {
  try {
    const found = localStorage.getItem(key);
    return found === null || (known && !known.includes(found)) ? otherwise : found;
  } catch {
    return otherwise;
  }
}

export function remember(key: string, value: string) {
  try {
    localStorage.setItem(key, value);
  } catch {
    // Said nowhere: the page works as before, it only begins anew next time.
  }
}

/** There is one other hand: what it takes up, it lets go of what it held. */
let letsGo: (() => void) | null = null;

/** Lays the other hand on something; returns what takes it off again. */
export function takeOtherHand(letGo: () => void): () => void {
  letsGo?.();
  letsGo = letGo;
  return () => {
    if (letsGo === letGo) {
      letsGo = null;
    }
  };
}

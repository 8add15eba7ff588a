import type { Frame } from "./live";

/**
 * Puts frames in order. Values are absolute, so a frame may be applied to any state that is not older than the one it builds
 * on; one that comes early waits, one that brings nothing new is passed over.
 */
export class FrameOrder {
  private at = 0;
  private early: Frame[] = [];

  /** Number of the state that is reached. */
  get number() {
    return this.at;
  }

  /** A frame is waiting for one that has not come. */
  get gap() {
    return this.early.length > 0;
  }

  /**
   * Begins anew from a whole state; what came before it is kept, for it may build on it. Returns what can be applied now, or null
   * where frames that built on that state came before it: the page is further on already, and lacks nothing of it.
   */
  begin(n: number): Frame[] | null {
    if (n < this.at) {
      return null;
    }

    this.at = n;
    return this.due();
  }

  /** Takes a frame; returns what can be applied now, in order. */
  take(frame: Frame): Frame[] {
    this.early.push(frame);
    return this.due();
  }

  /** Forgets everything: the connection is a new one. */
  forget() {
    this.at = 0;
    this.early = [];
  }

  private due(): Frame[] {
    this.early.sort((a, b) => a.n - b.n);
    const due: Frame[] = [];
    const later: Frame[] = [];
    for (const frame of this.early) {
      if (this.at > 0 && frame.base <= this.at) {
        if (frame.n > this.at) {
          due.push(frame);
          this.at = frame.n;
        }
      } else {
        later.push(frame);
      }
    }

    this.early = later;
    return due;
  }
}

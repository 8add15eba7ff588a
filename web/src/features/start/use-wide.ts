import { useSyncExternalStore } from "react";

// As wide as the breakpoint 3xl of the styles.
const query = window.matchMedia("(min-width: 112rem)");

/** Whether the page is wide enough for two links side by side. */
export function useWide(): boolean {
  return useSyncExternalStore(
    (listener) => {
      query.addEventListener("change", listener);
      return () => query.removeEventListener("change", listener);
    },
    () => query.matches,
  );
}

import { useLayoutEffect, useRef } from "react";

/**
 * For a list that shows as many of its rows as there is room for: rows that do not fit wrap into a column out of sight, and are neither
 * reached by Tab nor read aloud there. The list needs a height that does not depend on its rows, which it is told of by what they are.
 */
export function useRoom<T extends HTMLElement>(rows: string) {
  const list = useRef<T>(null);
  useLayoutEffect(() => {
    const box = list.current;
    if (!box) {
      return;
    }

    const look = () => {
      for (const row of box.children) {
        (row as HTMLElement).inert = (row as HTMLElement).offsetLeft > box.offsetLeft + box.clientWidth / 2;
      }
    };
    look();
    const resized = new ResizeObserver(look);
    resized.observe(box);
    return () => resized.disconnect();
  }, [rows]);
  return list;
}

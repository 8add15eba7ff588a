export interface Toast {
  id: number;
  text: string;
  status: "note" | "caution";
  /** It stays until it is put away. */
  stays: boolean;
}

/** More than this at once nobody reads. */
const MOST = 3;

let toasts: Toast[] = [];
let next = 1;
const listeners = new Set<() => void>();

function publish(list: Toast[]) {
  toasts = list;
  listeners.forEach((listener) => listener());
}

export const toastStore = {
  subscribe: (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  read: () => toasts,
  drop: (id: number) => publish(toasts.filter((t) => t.id !== id)),
};

/** Shows a line for a few seconds, or until it is put away; its number is for who puts it away. */
export function showToast(text: string, status: Toast["status"] = "note", stays = false): number {
  const id = next++;
  publish([...toasts.slice(1 - MOST), { id, text, status, stays }]);
  return id;
}

export interface Toast {
  id: number;
  text: string;
  status: "note" | "caution";
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

/** Shows a line for a few seconds. */
export function showToast(text: string, status: Toast["status"] = "note") {
  publish([...toasts.slice(1 - MOST), { id: next++, text, status }]);
}

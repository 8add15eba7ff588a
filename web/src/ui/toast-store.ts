export interface Toast {
  id: number;
  text: string;
  status: "note" | "caution";
}

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
};

/** Shows a line for a few seconds. */
export function showToast(text: string, status: Toast["status"] = "note") {
  const toast = { id: next++, text, status };
  publish([...toasts.slice(-2), toast]);
  setTimeout(() => publish(toasts.filter((t) => t.id !== toast.id)), 6000);
}

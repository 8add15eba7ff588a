import { useSyncExternalStore } from "react";
import { toastStore } from "./toast-store";
import { Shape } from "./status";

export function ToastHost() {
  const toasts = useSyncExternalStore(toastStore.subscribe, toastStore.read);
  return (
    <div aria-live="polite" data-testid="toasts" className="pointer-events-none fixed right-4 bottom-4 z-50 flex w-96 flex-col gap-2">
      {toasts.map((t) => (
        <div key={t.id} data-testid="toast" className="flex gap-2 rounded border border-line bg-high px-3 py-2 text-sm">
          <Shape status={t.status === "caution" ? "caution" : "advisory"} />
          <span>{t.text}</span>
        </div>
      ))}
    </div>
  );
}

import { Toast } from "radix-ui";
import { useSyncExternalStore } from "react";
import { toastStore } from "./toast-store";
import { Shape } from "./status";

/** Lines that come and go by themselves, read aloud where somebody listens. */
export function ToastHost() {
  const toasts = useSyncExternalStore(toastStore.subscribe, toastStore.read);
  return (
    <Toast.Provider label="Message" swipeDirection="right" duration={6000}>
      {toasts.map((t) => (
        <Toast.Root
          key={t.id}
          type="background"
          duration={t.stays ? Infinity : undefined}
          data-testid="toast"
          onOpenChange={(open) => !open && toastStore.drop(t.id)}
          className="flex items-start gap-2 rounded border border-line bg-high px-3 py-2 text-sm"
        >
          <Shape status={t.status === "caution" ? "caution" : "advisory"} />
          <Toast.Description className="flex-1">{t.text}</Toast.Description>
          <Toast.Close aria-label="Put it away" className="rounded px-1 text-pale hover:text-bone">
            ✕
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport data-testid="toasts" className="pointer-events-none fixed right-4 bottom-4 z-50 flex w-96 max-w-[90vw] flex-col gap-2 *:pointer-events-auto" />
    </Toast.Provider>
  );
}

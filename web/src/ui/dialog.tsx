import clsx from "clsx";
import { Dialog as Radix } from "radix-ui";
import { useRef, type ReactNode } from "react";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  children: ReactNode;
}

/** A modal dialog: focus stays in it, Escape and a press beside it close it. */
export function Dialog({ open, onClose, title, wide = false, children }: Props) {
  // Nothing of the primitive opened it: what had the focus then gets it back.
  const before = useRef<HTMLElement | null>(null);
  return (
    <Radix.Root open={open} onOpenChange={(to) => !to && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-shade" />
        <Radix.Content
          aria-describedby={undefined}
          onOpenAutoFocus={() => (before.current = document.activeElement as HTMLElement | null)}
          onCloseAutoFocus={(e) => {
            e.preventDefault();
            before.current?.focus();
          }}
          className={clsx(
            "fixed top-1/2 left-1/2 z-50 max-h-[85vh] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-lg border border-line bg-panel p-5",
            wide ? "w-[min(46rem,94vw)]" : "w-[min(34rem,92vw)]",
          )}
        >
          <div className="mb-3 flex items-center justify-between">
            <Radix.Title className="text-lg font-bold">{title}</Radix.Title>
            <Radix.Close className="rounded px-2 py-1 text-pale hover:bg-raised" aria-label="Close">
              ✕
            </Radix.Close>
          </div>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  children: ReactNode;
}

/** Not modal to the page's scrolling: that would inject a style element, which the security policy forbids. */
export function Dialog({ open, onClose, title, wide = false, children }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={(to) => !to && onClose()} modal={false}>
      <Radix.Portal>
        <div className="fixed inset-0 z-40 bg-black/60" aria-hidden onClick={onClose} />
        <Radix.Content aria-describedby={undefined} className={`fixed top-1/2 left-1/2 z-50 max-h-[85vh] ${wide ? "w-[min(46rem,94vw)]" : "w-[min(34rem,92vw)]"} -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-lg border border-line bg-panel p-5`}>
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

import { Tooltip } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

/** Around the whole application: how soon hints come. */
export function HintProvider({ children }: { children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={450} skipDelayDuration={150}>
      {children}
    </Tooltip.Provider>
  );
}

/** A few words about what the pointer rests on or the focus has come to. What must be known stands on the screen as well. */
export function Hint({ text, side = "top", children }: { text: ReactNode; side?: "top" | "right" | "bottom" | "left"; children: ReactElement }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content side={side} sideOffset={5} collisionPadding={8} data-testid="hint" className="z-50 max-w-72 rounded border border-line bg-high px-2.5 py-1.5 text-xs leading-4 text-bone">
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

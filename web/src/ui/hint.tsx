import { Tooltip } from "radix-ui";
import { useState, type MouseEvent, type ReactElement, type ReactNode } from "react";

/** Around the whole application: how soon hints come. */
export function HintProvider({ children }: { children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={450} skipDelayDuration={150}>
      {children}
    </Tooltip.Provider>
  );
}

/** What a press does something with. */
const ACTS = "button, a, [role=button], [role=radio]";

/** A few words about what the pointer rests on, the focus has come to, or a finger taps where a tap does nothing else. What must be known stands on the screen as well. */
export function Hint({ text, side = "top", children }: { text: ReactNode; side?: "top" | "right" | "bottom" | "left"; children: ReactElement }) {
  const [open, setOpen] = useState(false);
  const onClick = (e: MouseEvent<HTMLElement>) => {
    if ((e.nativeEvent as PointerEvent).pointerType === "touch" && !e.currentTarget.matches(ACTS)) {
      // The primitive takes every press for an act, and shuts.
      queueMicrotask(() => setOpen(true));
    }
  };
  return (
    <Tooltip.Root open={open} onOpenChange={setOpen}>
      <Tooltip.Trigger asChild onClick={onClick}>
        {children}
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side={side}
          sideOffset={5}
          collisionPadding={8}
          data-testid="hint"
          className="z-50 max-w-72 rounded border border-line bg-high px-2.5 py-1.5 text-xs leading-4 text-bone"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

import clsx from "clsx";
import { ChevronRight } from "lucide-react";
import { Collapsible } from "radix-ui";
import { useState, type ReactNode } from "react";

interface Props {
  title: ReactNode;
  /** What is in it, said while it is shut. */
  about?: ReactNode;
  startsOpen?: boolean;
  testId?: string;
  className?: string;
  children: ReactNode;
}

/** What is rarely wanted: shut, with a word on what is in it. */
export function Fold({ title, about, startsOpen = false, testId, className, children }: Props) {
  const [open, setOpen] = useState(startsOpen);
  return (
    <Collapsible.Root open={open} onOpenChange={setOpen} data-testid={testId} className={className}>
      <Collapsible.Trigger className="flex w-full items-baseline gap-1.5 rounded text-left hover:text-bone">
        <ChevronRight className={clsx("size-3.5 shrink-0 self-center text-pale transition-transform duration-(--quick)", open && "rotate-90")} aria-hidden />
        <span>{title}</span>
        {!open && about && <span className="min-w-0 flex-1 text-pale">{about}</span>}
      </Collapsible.Trigger>
      <Collapsible.Content>{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}

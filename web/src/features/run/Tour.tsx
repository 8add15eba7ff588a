import { Popover } from "radix-ui";
import { memo, useEffect, useRef, useState } from "react";
import { Button } from "../../ui/button";
import { recall, remember } from "../../ui/stored";
import { useFlies, useRun } from "./context";

const KEY = "tour";

const stops = [
  ["[aria-label='Chain of energy']", "The chain", "Energy is handed from link to link, left to right. The line between two is as wide as what is handed. Press a link to open it."],
  ["[aria-label=Guide]", "The cue", "What to do now, and why. Space does it; hold Space where a hold is due. Below: what comes next, and what runs meanwhile."],
  [
    "[data-panel], [data-testid=watch]",
    "The open link",
    "Its controls and readings. Everything works by pointer, touch or keys. Rest on a name to read what it works on; w asks why something will not take.",
  ],
  ["[aria-label=Tape]", "The tape", "Everything you did. Pick a moment to fly on from there: the run stays as it was. The question mark shows all keys."],
] as const;

// Where nothing can be stored it is shown once a visit.
let shown = false;

/** Four stops through the start screen, in the first run that is ever flown here; skipped at any time, and never shown again. */
export const Tour = memo(function Tour() {
  const { connection } = useRun();
  const flies = useFlies();
  const [stop, setStop] = useState(() => (shown || recall(KEY, "") !== "" || connection.snapshot!.header.mode === "alone" ? stops.length : 0));
  const anchor = useRef<Element | null>(null);
  const [ready, setReady] = useState(false);
  const at = stops[stop];
  useEffect(() => {
    if (at) {
      anchor.current = document.querySelector(at[0]);
      anchor.current?.setAttribute("data-toured", "");
      setReady(anchor.current !== null);
      return () => anchor.current?.removeAttribute("data-toured");
    }
  }, [at]);
  const end = () => {
    shown = true;
    remember(KEY, "done");
    setStop(stops.length);
  };
  if (!at || !flies) {
    return null;
  }

  const next = stop + 1 < stops.length ? () => setStop(stop + 1) : end;
  return (
    <Popover.Root open={ready} onOpenChange={(open) => !open && end()}>
      <Popover.Anchor virtualRef={anchor as React.RefObject<Element>} />
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          collisionPadding={12}
          align="start"
          aria-label={at[1]}
          data-testid="tour"
          onOpenAutoFocus={(e) => e.preventDefault()}
          onInteractOutside={(e) => e.preventDefault()}
          className="z-40 w-80 rounded-lg border border-heather bg-panel p-4 text-sm"
        >
          <p className="font-bold">{at[1]}</p>
          <p className="mt-1 text-pale">{at[2]}</p>
          <div className="mt-3 flex items-center gap-2">
            <Button size="small" look="primary" onClick={next}>
              {stop + 1 < stops.length ? "Next" : "Begin"}
            </Button>
            <Button size="small" look="quiet" onClick={end}>
              Skip
            </Button>
            <span className="num ml-auto text-2xs text-pale">
              {stop + 1} of {stops.length}
            </span>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
});

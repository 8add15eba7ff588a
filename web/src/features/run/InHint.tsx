import type { ReactElement } from "react";
import { Hint } from "../../ui/hint";
import { useRun } from "./context";

/** Around a control's name, a reading or a lamp: what it is and what it rests on, from the aircraft's data and the gates its machine obeys. */
export function InHint({ of, side, children }: { of: string; side?: "top" | "right" | "bottom" | "left"; children: ReactElement }) {
  const { panel } = useRun();
  const hint = panel.hints[of];
  if (!hint) {
    return children;
  }

  return (
    <Hint
      side={side}
      text={
        <>
          {hint.what}
          {hint.restsOn && <span className="mt-0.5 block text-pale">{hint.restsOn}</span>}
        </>
      }
    >
      {children}
    </Hint>
  );
}

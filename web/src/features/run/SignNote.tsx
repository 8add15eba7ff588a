import { Button } from "../../ui/button";
import { Shape } from "../../ui/status";
import type { Cue } from "../../api/live";
import { useFlies } from "./context";
import { useRunUi } from "./run-ui";

/** Something wrong has shown, and nobody has said so: what it is that shows, what is right then, and where to say it. */
export function SignNote({ sign }: { sign: NonNullable<Cue["sign"]> }) {
  const ui = useRunUi();
  const flies = useFlies();
  return (
    <div role="status" data-testid="sign" className="rounded border border-caution p-2 text-sm">
      <p className="flex items-center gap-1.5 text-xs text-caution">
        <Shape status="caution" /> Something is wrong
      </p>
      <p className="mt-1">{sign.seen}</p>
      <p className="mt-1 text-xs text-pale">{sign.response}</p>
      {flies && (
        <Button size="small" className="mt-2" onClick={() => ui.report()}>
          Report a fault
        </Button>
      )}
    </div>
  );
}

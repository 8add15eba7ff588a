import { memo, useEffect, useState } from "react";
import { useRun } from "../run/context";
import { soundEngines } from "../run/engine-sound";
import { utter } from "../run/sound";
import { hear, type Call } from "../run/voices";

/** What is said aloud around the jet, in writing: crew, tower, the warning voice, a gong. */
export const Captions = memo(function Captions() {
  const { panel, connection } = useRun();
  const [call, setCall] = useState<Call | null>(null);
  useEffect(
    () =>
      hear(connection, panel, (said) => {
        setCall(said);
        utter(said);
      }),
    [connection, panel],
  );
  useEffect(() => soundEngines(connection, panel, (text) => setCall({ who: "Sound", text })), [connection, panel]);
  return (
    <div aria-live="polite" className="min-w-0 flex-1 truncate px-3 text-sm text-advisory" data-testid="caption">
      {call && `◆ ${call.who}: ${call.who === "Sound" ? call.text : `“${call.text}”`}`}
    </div>
  );
});

import { useEffect, useState } from "react";
import { useRun, useSignal } from "../run/context";

/** What is said aloud around the jet, in writing: the crew's answers and the announcer's calls. */
export function Captions() {
  const { panel } = useRun();
  const zone = useSignal("fire.zone");
  const [said, setSaid] = useState("");
  return (
    <div aria-live="polite" className="h-6 truncate px-3 text-sm text-advisory" data-testid="caption">
      {panel.crew.map((c) => (
        <Answer key={c.id} id={c.id} granted={c.answer} refused={c.refusal} onSay={setSaid} />
      ))}
      {zone > 0 ? `◆ Announcer: fire, ${panel.fireZones[zone - 1]}` : said && `◆ Crew: ${said}`}
    </div>
  );
}

function Answer({ id, granted, refused, onSay }: { id: string; granted: string; refused: string; onSay: (text: string) => void }) {
  const yes = useSignal(`crew.${id}`) > 0.5;
  const no = useSignal(`crew.${id}.refused`) > 0.5;
  useEffect(() => {
    if (yes || no) {
      onSay(`“${yes ? granted : refused}”`);
    }
  }, [yes, no, granted, refused, onSay]);
  return null;
}

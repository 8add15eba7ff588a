import { useMemo, useState } from "react";
import { Dialog } from "../../ui/dialog";
import { useRun, useSend } from "./context";
import { suggest } from "./command-line";

/** Operates any control by part of its name and a position: "batt on", "crank r", "trim 11". */
export function CommandLine({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Command line">
      <Line onClose={onClose} />
    </Dialog>
  );
}

function Line({ onClose }: { onClose: () => void }) {
  const { panel, connection } = useRun();
  const send = useSend();
  const [text, setText] = useState("");
  const start = connection.snapshot!.header.start === "air" ? "air" : "ground";
  const found = useMemo(() => suggest(panel.controls.filter((c) => !c.only || c.only === start), text), [panel, start, text]);
  const best = found[0];
  const run = () => {
    if (!best) {
      return;
    }

    if (best.number !== undefined) {
      send("Dial", best.control.id, best.number);
    } else if (best.control.sprung.includes(best.position!)) {
      send("Hold", best.control.id, best.position);
    } else {
      send("Set", best.control.id, best.position);
    }

    onClose();
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        run();
      }}
    >
      <input autoFocus aria-label="Command" className="w-full text-lg" value={text} onChange={(e) => setText(e.target.value)} placeholder="battery on" />
      <ul className="mt-3 text-sm" aria-label="What it would do">
        {found.slice(0, 6).map((s, i) => (
          <li key={`${s.control.id}/${s.position ?? s.number}`} className={i === 0 ? "text-heather" : "text-pale"}>
            {s.control.label} → {s.position ?? `${s.number} ${s.control.unit}`}
            {s.position && s.control.sprung.includes(s.position) ? " (held until released)" : ""}
          </li>
        ))}
        {text && found.length === 0 && <li className="text-caution">▲ No control by that name, or it has no such position.</li>}
      </ul>
    </form>
  );
}

import type { Lamp } from "../../api/client";
import { Shape, statusText, type Status } from "../../ui/status";
import { useRun, useSend, useSignal } from "../run/context";

const order = ["warning", "caution", "advisory", "ready"];

/** Every lamp in a place of its own; lit ones by colour, shape and word. */
export function Cautions() {
  const { panel, connection } = useRun();
  const master = useSignal("caution.master");
  const send = useSend();
  const lamps = [...panel.lamps].sort((a, b) => order.indexOf(a.class) - order.indexOf(b.class));
  return (
    <section aria-label="Cautions" className="rounded-lg bg-panel p-2">
      <div className="mb-1 flex items-center justify-between">
        <h2 className="text-xs text-pale">Lamps and cautions</h2>
        <button
          type="button"
          data-testid="master-caution"
          data-lit={master > 0.5}
          onPointerDown={() => send("Hold", "acknowledge", "pressed")}
          onPointerUp={() => send("Release", "acknowledge")}
          disabled={!connection.index.has("acknowledge")}
          className={`rounded px-2 py-0.5 text-2xs ${master > 0.5 ? "bg-caution font-bold text-ground" : "text-pale"}`}
        >
          {master > 0.5 ? "▲ new caution: acknowledge" : "nothing new"}
        </button>
      </div>
      <ul className="grid grid-cols-3 gap-x-2">
        {lamps.map((l) => (
          <LampCell key={l.id} lamp={l} />
        ))}
      </ul>
    </section>
  );
}

function LampCell({ lamp }: { lamp: Lamp }) {
  const lit = useSignal(`lamp.${lamp.id}`) > 0.5;
  const status = lamp.class as Status;
  return (
    <li data-lamp={lamp.id} data-lit={lit} title={lamp.meaning} className={`flex items-center gap-1 truncate py-px text-2xs ${lit ? statusText[status] : "text-pale/75"}`}>
      {lit ? <Shape status={status} /> : <span className="inline-block w-3 text-center">·</span>}
      <span className={`truncate ${lit ? "font-bold" : ""}`}>{lamp.label}</span>
    </li>
  );
}

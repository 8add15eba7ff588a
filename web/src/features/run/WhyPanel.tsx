import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Panel } from "../../api/client";
import { Dialog } from "../../ui/dialog";
import { WhyChains } from "../../ui/why-chains";
import { useRun } from "./context";
import { useRunUi } from "./run-ui";

/** Why will it not take: the chain of what is missing, nearest first, live; and a way to each cure. */
export function WhyPanel({ target, onAsk, onClose }: { target: string; onAsk: (target: string) => void; onClose: () => void }) {
  const { connection, panel } = useRun();
  const ui = useRunUi();
  const answer = useQuery({ queryKey: ["why", connection.id, target], queryFn: () => api.why(connection.id, target), enabled: target !== "", refetchInterval: 500, retry: false, gcTime: 0 });
  return (
    <Dialog open onClose={onClose} title="Why will it not take?" wide>
      <Search panel={panel} onAsk={onAsk} />
      {target === "" && <p className="mt-3 text-sm text-pale">Type part of a name: any control, lamp or reading.</p>}
      {answer.error && <p className="mt-3 text-sm text-caution">▲ {answer.error.message}</p>}
      {answer.data && (
        <div data-testid="why" data-target={answer.data.target} className="mt-3">
          <h3 className="font-bold">{answer.data.label}</h3>
          <p className="text-sm text-pale" data-testid="why-sentence">
            {answer.data.sentence}
          </p>
          <WhyChains answer={answer.data} onGoTo={ui.goTo} />
        </div>
      )}
    </Dialog>
  );
}

function Search({ panel, onAsk }: { panel: Panel; onAsk: (target: string) => void }) {
  const [text, setText] = useState("");
  const all = [
    ...panel.controls.map((c) => ({ name: c.id, label: c.label })),
    ...panel.lamps.map((l) => ({ name: `lamp.${l.id}`, label: `Lamp ${l.label}` })),
    ...panel.electrics.buses.map((b) => ({ name: `bus.${b.id}.live`, label: `${b.label} bus` })),
    ...panel.gauges.map((g) => ({ name: g.signal, label: g.label })),
  ];
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = words.length === 0 ? [] : all.filter((x) => words.every((w) => x.label.toLowerCase().includes(w) || x.name.includes(w))).slice(0, 5);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (found[0]) {
          onAsk(found[0].name);
        }
      }}
    >
      <input autoFocus aria-label="Ask about" className="w-full" value={text} placeholder="another control, lamp or reading" onChange={(e) => setText(e.target.value)} />
      {found.length > 0 && (
        <ul className="mt-1 flex flex-wrap gap-1 text-xs">
          {found.map((f) => (
            <li key={f.name}>
              <button type="button" className="rounded border border-line px-2 py-0.5 hover:bg-high" onClick={() => onAsk(f.name)}>
                {f.label}
              </button>
            </li>
          ))}
        </ul>
      )}
    </form>
  );
}

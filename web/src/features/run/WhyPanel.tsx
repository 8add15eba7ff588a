import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Panel } from "../../api/client";
import { Combobox } from "../../ui/combobox";
import { Dialog } from "../../ui/dialog";
import { WhyChains } from "../../ui/why-chains";
import { useRun } from "./context";
import { useRunUi } from "./run-ui";

/** Why will it not take: the chain of what is missing, nearest first, live; and a way to each cure. */
export function WhyPanel({ target, onAsk, onClose }: { target: string; onAsk: (target: string) => void; onClose: () => void }) {
  const { connection, panel } = useRun();
  const ui = useRunUi();
  const answer = useQuery({
    queryKey: ["why", connection.id, target],
    queryFn: () => api.why(connection.id, target),
    enabled: target !== "",
    refetchInterval: 500,
    retry: false,
    gcTime: 0,
  });
  return (
    <Dialog open onClose={onClose} title="Why will it not take?" wide>
      <Search panel={panel} onAsk={onAsk} />
      {target === "" && <p className="mt-3 text-sm text-pale">Type part of a name: any control, lamp or reading.</p>}
      {answer.error && <p className="mt-3 text-sm text-caution">▲ {answer.error.message}</p>}
      {answer.data && (
        <div data-testid="why" data-target={answer.data.target} className="mt-3">
          <h3 className="font-bold">{answer.data.label}</h3>
          {panel.hints[target] && <p className="text-sm">{panel.hints[target].what}</p>}
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
  return (
    <Combobox
      label="Ask about"
      placeholder="another control, lamp or reading"
      autoFocus
      quiet
      most={5}
      text={text}
      onText={setText}
      items={all.map((x) => ({ value: x.name, words: `${x.label} ${x.name}`, content: x.label }))}
      onPick={onAsk}
      empty="Nothing is called that."
    />
  );
}

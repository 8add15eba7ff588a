import { useState } from "react";
import type { Fault } from "../../api/client";
import { Combobox } from "../../ui/combobox";

/** Every fault that can be chosen, found by a word of its name, of its sign or of the right answer to it. */
export default function FaultSearch({ faults, onAdd }: { faults: readonly Fault[]; onAdd: (code: string) => void }) {
  const [text, setText] = useState("");
  return (
    <Combobox
      label="Add a fault"
      placeholder="add a fault: type a word of it"
      text={text}
      onText={setText}
      items={faults.map((f) => ({
        value: f.code,
        words: `${f.label} ${f.signature}`,
        data: { "data-fault-offered": f.code },
        content: (
          <>
            {f.label} <span className="block text-2xs text-pale">{f.signature}</span>
          </>
        ),
      }))}
      onPick={(code) => {
        setText("");
        onAdd(code);
      }}
      empty="No fault by that word on this aircraft."
      listClassName="max-h-44 rounded border border-line"
    />
  );
}

import { useState } from "react";
import { Button } from "../../ui/button";
import { Dialog } from "../../ui/dialog";
import { Choice, Field } from "../../ui/field";
import { showToast } from "../../ui/toast-store";
import { useRun } from "./context";

/** Tells the crew what is wrong. The judge hears when, and whether it was so. */
export function ReportDialog({ onClose }: { onClose: () => void }) {
  const { panel, connection } = useRun();
  const [text, setText] = useState("");
  const [code, setCode] = useState("");
  const [place, setPlace] = useState("");
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = panel.faults.filter((f) => words.every((w) => `${f.label} ${f.signature}`.toLowerCase().includes(w)));
  const fault = found.find((f) => f.code === code) ?? (words.length > 0 ? found[0] : undefined);
  const where = fault && (fault.places.includes(place) ? place : fault.places[0]);
  const send = () => {
    if (fault) {
      void connection.send("Report", fault.code, where ?? null).then(
        () => showToast(`Reported: ${fault.label}${where ? `, ${where.replaceAll("-", " ")}` : ""}.`),
        (error: Error) => showToast(error.message, "caution"),
      );
      onClose();
    }
  };
  return (
    <Dialog open onClose={onClose} title="Report a fault">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send();
        }}
      >
        <input autoFocus aria-label="What is wrong" className="w-full" placeholder="what is wrong? type a word" value={text} onChange={(e) => setText(e.target.value)} />
        <ul className="mt-2 max-h-[40vh] overflow-auto text-sm" role="radiogroup" aria-label="Faults">
          {found.map((f) => (
            <li key={f.code}>
              <button
                type="button"
                role="radio"
                aria-checked={fault?.code === f.code}
                data-report={f.code}
                onClick={() => setCode(f.code)}
                className={`w-full rounded border px-2 py-1 text-left ${fault?.code === f.code ? "border-heather bg-heather-soft" : "border-transparent hover:bg-raised"}`}
              >
                {f.label} <span className="block text-2xs text-pale">{f.signature}</span>
              </button>
            </li>
          ))}
          {found.length === 0 && <li className="text-caution">▲ No fault by that word on this aircraft.</li>}
        </ul>
        <div className="mt-3 flex items-end gap-3">
          {fault && fault.places.length > 1 && (
            <div className="flex-1">
              <Field label="Where">
                <Choice value={where} onChange={(e) => setPlace(e.target.value)} options={fault.places.map((p) => [p, p.replaceAll("-", " ")] as const)} />
              </Field>
            </div>
          )}
          <Button type="submit" look="primary" disabled={!fault} data-testid="send-report">
            Report
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

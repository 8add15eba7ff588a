import { useState } from "react";
import { Button } from "../../ui/button";
import { Combobox } from "../../ui/combobox";
import { Dialog } from "../../ui/dialog";
import { ChoiceField } from "../../ui/field";
import { showToast } from "../../ui/toast-store";
import { useRun } from "./context";

/** Tells the crew what is wrong. The judge hears when, and whether it was so. */
export function ReportDialog({ onClose }: { onClose: () => void }) {
  const { panel, connection } = useRun();
  const [text, setText] = useState("");
  const [code, setCode] = useState("");
  const [place, setPlace] = useState("");
  // The first of the list is marked from the beginning; it is meant only after somebody typed, moved or pressed.
  const [meant, setMeant] = useState(false);
  const fault = meant ? panel.faults.find((f) => f.code === code) : undefined;
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
        <Combobox
          label="What is wrong"
          placeholder="what is wrong? type a word"
          autoFocus
          text={text}
          onText={setText}
          items={panel.faults.map((f) => ({
            value: f.code,
            words: `${f.label} ${f.signature}`,
            data: { "data-report": f.code },
            content: (
              <>
                {f.label} <span className="block text-2xs text-pale">{f.signature}</span>
              </>
            ),
          }))}
          marked={code}
          onMark={setCode}
          onPick={(to) => {
            setMeant(true);
            setCode(to);
          }}
          onKeyDown={(e) => {
            if (e.key === "Enter") {
              e.preventDefault();
              send();
            } else if (e.key !== "Tab") {
              setMeant(true);
            }
          }}
          empty="No fault by that word on this aircraft."
          listClassName="max-h-[40vh]"
        />
        <div className="mt-3 flex items-end gap-3">
          {fault && fault.places.length > 1 && (
            <div className="flex-1">
              <ChoiceField label="Where" name="where" value={where ?? ""} onChange={setPlace} options={fault.places.map((p) => [p, p.replaceAll("-", " ")] as const)} />
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

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Control } from "../../api/client";
import { Button } from "../../ui/button";
import { useRun, useSignal } from "./context";

/** A position typed in degrees and minutes, or the ramp spot's taken as it was surveyed; what was entered is held against the spot. */
export function PositionEntry({ control, disabled }: { control: Control; disabled: boolean }) {
  const { connection } = useRun();
  const entered = useSignal(control.id);
  const latitude = useSignal(`${control.id}.latitude`);
  const longitude = useSignal(`${control.id}.longitude`);
  const [draft, setDraft] = useState("");
  const [refused, setRefused] = useState<string | null>(null);
  const answer = useQuery({
    queryKey: ["start-position", connection.id, entered, latitude, longitude],
    queryFn: () => api.startPosition(connection.id),
    retry: false,
    staleTime: Infinity,
    gcTime: 0,
    placeholderData: (previous) => previous,
  });
  const enter = (to: string) =>
    void connection.send("Set", control.id, to).then(
      () => {
        setRefused(null);
        setDraft("");
      },
      (error: Error) => setRefused(error.message),
    );
  const advised = connection.snapshot?.header.mode !== "alone";
  const far = answer.data?.bearingDeg != null;
  return (
    <div className="flex flex-col gap-1">
      <div className="flex gap-1">
        <input
          aria-label={`${control.label}: latitude and longitude`}
          aria-invalid={refused !== null}
          className={`num w-0 min-w-0 flex-1 text-xs ${refused ? "border-caution" : ""}`}
          placeholder="61 24.3 N 18 12.7 W"
          maxLength={60}
          disabled={disabled}
          value={draft}
          onChange={(e) => setDraft(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") {
              enter(draft);
            } else if (e.key === "Escape") {
              setDraft("");
              setRefused(null);
            }
          }}
        />
        <Button size="small" disabled={disabled || draft.trim() === ""} onClick={() => enter(draft)}>
          Enter
        </Button>
        <Button size="small" disabled={disabled} aria-label={`${control.label}: take the spot's`} onClick={() => enter("spot")}>
          Spot {answer.data?.spot}
        </Button>
      </div>
      {refused && (
        <p role="alert" className="text-2xs text-caution">
          ▲ {refused}
        </p>
      )}
      <p className="text-2xs text-pale">
        <span className="num">{answer.data?.entered ?? "nothing entered"}</span>
        {answer.data && !answer.data.entered && <span> · survey {answer.data.offered}</span>}
      </p>
      {advised && answer.data?.entered && (
        <p role="status" className={`text-2xs ${far ? "text-caution" : "text-ready"}`}>
          {far ? "▲" : "✓"} {answer.data.sentence}
        </p>
      )}
    </div>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import { MethodTable } from "../../ui/method-table";
import { AdviceSwitch } from "../run/AdviceSwitch";
import { useRun, useRunPart, useSeconds, useSignal } from "../run/context";

/** Flown time after which the methods are flown ahead anew, s: a few hundred feet. */
const ANEW_S = 3;
const ADVICE = "relight-advice";

/** What every method costs from here: the whole machine flown ahead by a steady pilot, anew every few seconds. */
export function HeightCosts({ dead }: { dead: string }) {
  const { connection } = useRun();
  const ended = useRunPart((s) => s.ended);
  const lit = useSignal(`${dead}.lit`) > 0.5;
  const seconds = useSeconds();
  const [advised, setAdvised] = useState(() => localStorage.getItem(ADVICE) !== "off");
  const outlook = useQuery({
    queryKey: ["relight-outlook", connection.id, Math.floor(seconds / ANEW_S), lit],
    queryFn: ({ signal }) => api.runRelightOutlook(connection.id, signal),
    enabled: !ended,
    staleTime: Infinity,
    gcTime: 10_000,
    placeholderData: (before) => before,
  });
  return (
    <section aria-label="Height costs" className="mt-auto border-t border-line pt-2">
      <div className="mb-1 flex items-center justify-between">
        <h2 className="text-xs text-pale">From here, flown ahead</h2>
        <AdviceSwitch name={ADVICE} advised={advised} onChange={setAdvised} />
      </div>
      {outlook.data ? <MethodTable outlook={outlook.data} advised={advised} /> : <p className="text-xs text-pale">{outlook.error ? outlook.error.message : "Flying ahead…"}</p>}
    </section>
  );
}

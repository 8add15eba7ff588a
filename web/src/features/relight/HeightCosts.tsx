import { useState } from "react";
import { MethodTable } from "../../ui/method-table";
import { recall } from "../../ui/stored";
import { AdviceSwitch } from "../run/AdviceSwitch";
import { useOutlook } from "./outlook";

const ADVICE = "relight-advice";

/** What every method costs from here: the whole machine flown ahead by a steady pilot; and the way home. */
export function HeightCosts({ dead }: { dead: string }) {
  const [advised, setAdvised] = useState(() => recall(ADVICE, "on") !== "off");
  const outlook = useOutlook(dead);
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

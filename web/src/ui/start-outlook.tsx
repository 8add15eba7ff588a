import type { StartOutlook } from "../api/client";
import { Fold } from "./fold";
import { Shape, type Status } from "./status";

const severities: Record<string, Status> = { note: "ready", caution: "caution", warning: "warning", damage: "warning" };

/** What is advised before a start, and what it asks of the battery. */
export function OutlookWords({ outlook }: { outlook: StartOutlook }) {
  return (
    <>
      <p className="mb-1.5 flex gap-1.5 text-sm" data-testid="recommendation">
        <Shape status={severities[outlook.advice.severity] ?? "ready"} />
        <span>{outlook.advice.text}</span>
      </p>
      {outlook.asPlanned.battery && <BatteryLine battery={outlook.asPlanned.battery} />}
    </>
  );
}

/** What the battery has and what this start asks of it. */
function BatteryLine({ battery }: { battery: NonNullable<StartOutlook["asPlanned"]["battery"]> }) {
  const minutes = (s: number) => Math.max(1, Math.round(s / 60));
  const short = battery.fellOut || battery.attempts < 2 || battery.lastsS < 1.5 * battery.neededS;
  return (
    <p className="mb-1.5 flex gap-1.5 text-sm" data-testid="battery-line">
      <Shape status={short ? "caution" : "ready"} />
      <span className="num">
        Battery: {minutes(battery.lastsS)} min, you need {minutes(battery.neededS)} ({battery.attempts === 1 ? "1 attempt" : `${battery.attempts} attempts`})
      </span>
    </p>
  );
}

/** What a shorter list leaves out, each check with what it would have shown. */
export function GivesUp({ checks }: { checks: readonly string[] }) {
  return (
    <Fold testId="gives-up" className="text-2xs text-pale" title={checks.length === 1 ? "gives up one check" : `gives up ${checks.length} checks`}>
      <ul className="list-disc pl-4">
        {checks.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
    </Fold>
  );
}

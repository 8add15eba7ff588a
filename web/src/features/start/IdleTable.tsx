import { number } from "../../ui/format";
import { Shape, type Status } from "../../ui/status";
import { useFlags, useRun, useSignal } from "../run/context";
import { withoutEngine } from "../run/engines";

const READINGS = ["n2", "egt", "fuel-flow", "oil", "hydraulics", "nozzle"];

/** The normal-idle table, filled live: what each running engine reads, what is normal, and whether it is. */
export function IdleTable() {
  const { panel } = useRun();
  const rows = READINGS.map((r) => panel.engines.map((e) => panel.gauges.find((g) => g.signal === `${e.id}.${r}`))).filter((gauges) => gauges.some((g) => g?.normal));
  return (
    <table className="w-full text-xs" data-testid="idle-table">
      <caption className="mb-1 text-left text-2xs text-pale">At idle</caption>
      <tbody>
        {rows.map((gauges) => {
          const first = gauges.find((g) => g)!;
          return (
            <tr key={first.signal} className="border-t border-line">
              <th className="py-0.5 text-left font-normal">{withoutEngine(first.label, panel.engines)}</th>
              <td className="num text-right whitespace-nowrap text-pale">
                {number(first.normal![0]!, 1)}–{number(first.normal![1]!, 1)}
              </td>
              {panel.engines.map((e, i) => (
                <Cell key={e.id} engine={e.id} signal={gauges[i]?.signal ?? first.signal} normal={gauges[i]?.normal ?? first.normal!} />
              ))}
            </tr>
          );
        })}
        <tr className="border-t border-line text-2xs text-pale">
          <td />
          <td className="text-right">normal</td>
          {panel.engines.map((e) => (
            <td key={e.id} className="text-right">
              {panel.engines.length > 1 ? e.label.toLowerCase() : "reads"}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

function Cell({ engine, signal, normal }: { engine: string; signal: string; normal: readonly number[] }) {
  const { connection } = useRun();
  const value = useSignal(signal);
  const runs = useSignal(`${engine}.lit`) > 0.5;
  const starting = useSignal(`${engine}.start-cycle`) > 0.5;
  const good = value >= normal[0]! && value <= normal[1]!;
  const status: Status = !runs || starting ? "off" : good ? "ready" : "caution";
  return (
    <td className={`num pl-3 text-right whitespace-nowrap ${status === "off" ? "text-pale" : ""}`} data-reading={signal} data-good={runs && !starting ? good : undefined}>
      {number(value, connection.info(signal)?.quantum ?? 1)} <Shape status={status} />
    </td>
  );
}

/** With one engine running: which lit cautions belong to the dead one and may stay, and which must be gone. */
export function CautionSides() {
  const { panel } = useRun();
  const burns = useFlags(panel.engines.map((e) => `${e.id}.lit`));
  const starts = useFlags(panel.engines.map((e) => `${e.id}.start-cycle`));
  const lamps = panel.lamps.filter((l) => panel.lampSides[l.id] && (l.class === "caution" || l.class === "warning"));
  const shine = useFlags(lamps.map((l) => `lamp.${l.id}`));
  const lit = panel.engines.map((_, i) => burns[i] === "1" && starts[i] === "0");
  if (panel.engines.length < 2 || lit.every((l) => l === lit[0])) {
    return null;
  }

  const dead = panel.engines[lit.indexOf(false)]!;
  const alerts = lamps.filter((_, i) => shine[i] === "1");
  const stay = alerts.filter((l) => panel.lampSides[l.id] === dead.id);
  const gone = alerts.filter((l) => panel.lampSides[l.id] !== dead.id);
  return (
    <dl className="text-xs" data-testid="caution-sides">
      <dt className="text-2xs text-pale">Belong to the dead {dead.label.toLowerCase()} engine and may stay</dt>
      <dd>{stay.map((l) => l.label).join(", ") || "none"}</dd>
      <dt className="mt-1 text-2xs text-pale">Must be gone</dt>
      <dd className={gone.length > 0 ? "text-caution" : ""}>
        <Shape status={gone.length > 0 ? "caution" : "ready"} /> {gone.map((l) => l.label).join(", ") || "none is left"}
      </dd>
    </dl>
  );
}

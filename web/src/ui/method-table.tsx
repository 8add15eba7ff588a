import type { RelightOutlook } from "../api/client";
import { Shape } from "./status";

const feet = (ft: number) => ft.toLocaleString("en").replaceAll(",", "\u202f");

/** What each method of restart would come to, flown ahead, and the one that is advised. */
export function MethodTable({ outlook, advised = true, onTry }: { outlook: RelightOutlook; advised?: boolean; onTry?: (method: string) => void }) {
  if (outlook.methods.length === 0) {
    return (
      <>
        <p className="text-xs text-pale">{outlook.advice.text}</p>
        <Home outlook={outlook} />
      </>
    );
  }

  return (
    <>
      <table className="w-full text-xs">
        <thead>
          <tr className="text-2xs text-pale">
            <th scope="col" className="pb-1 text-left font-normal">
              Method
            </th>
            <th scope="col" className="px-1.5 pb-1 text-right font-normal whitespace-nowrap">
              costs ft
            </th>
            <th scope="col" className="px-1.5 pb-1 text-right font-normal">
              s
            </th>
            <th scope="col" className="pb-1 text-right font-normal">
              tries
            </th>
          </tr>
        </thead>
        <tbody>
          {outlook.methods.map((m) => (
            <tr key={m.id} data-method={m.id} data-works={m.works} className="border-t border-line align-top">
              <th scope="row" className="py-1 pr-2 text-left font-normal">
                <Shape status={m.works ? "ready" : "warning"} /> {m.label}
                <span className="block text-2xs text-pale">{m.works ? `idle at ${feet(m.idleFt ?? 0)} ft, ${feet(m.aboveFt)} spare` : m.why}</span>
                {onTry && m.id !== "immediate" && (
                  <button type="button" className="text-heather underline" onClick={() => onTry(m.id)}>
                    Fly it from here
                  </button>
                )}
              </th>
              <td className="num px-1.5 py-1 text-right">{m.idleFt == null ? "–" : feet(m.costFt)}</td>
              <td className="num px-1.5 py-1 text-right">{m.idleFt == null ? "–" : m.seconds}</td>
              <td className="num py-1 text-right">{m.tries}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {advised && (
        <p data-testid="relight-advice" className="mt-2 text-sm leading-5">
          {outlook.advice.text}
        </p>
      )}
      <Home outlook={outlook} />
    </>
  );
}

/** Whether the nearest field is in reach without any engine, and what one that runs would hold. */
function Home({ outlook }: { outlook: RelightOutlook }) {
  const home = outlook.home;
  if (!home) {
    return null;
  }

  const wind = Math.abs(home.headwindKt) < 3 ? "" : home.headwindKt > 0 ? `, ${home.headwindKt} kt against` : `, ${-home.headwindKt} kt behind`;
  return (
    <p data-testid="way-home" className="mt-2 text-2xs text-pale">
      {home.place} <span className="num">{home.distanceNm}</span> NM{wind}: the glide reaches <span className="num">{home.reachNm}</span> NM,{" "}
      {home.arrivesFt > 0 ? `${feet(home.arrivesFt)} ft over the field` : "short of the field"}.
      {home.levelsOffFt != null && (home.levelsOffFt > 0 ? ` One engine at full holds ${feet(home.levelsOffFt)} ft.` : " One engine alone does not hold it.")}
      {home.levelsOffFt != null && home.fuelLb == null && <span className="text-caution"> On it alone the ground on the way is not cleared.</span>}
      {home.fuelLb != null && home.fuelLb > 0 && (
        <span data-testid="fuel-home" className={home.fuelLb > home.aboardLb ? "text-caution" : ""}>
          {" "}
          Home on it: <span className="num">{feet(home.fuelLb)}</span> lb of <span className="num">{feet(home.aboardLb)}</span>
          {home.fuelLb > home.aboardLb ? ", more than is aboard." : "."}
        </span>
      )}
    </p>
  );
}

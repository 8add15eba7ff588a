import type { RelightOutlook } from "../api/client";
import { Shape } from "./status";

const feet = (ft: number) => ft.toLocaleString("en").replaceAll(",", "\u202f");

/** What each method of restart would come to, flown ahead, and the one that is advised. */
export function MethodTable({ outlook, advised = true }: { outlook: RelightOutlook; advised?: boolean }) {
  if (outlook.methods.length === 0) {
    return <p className="text-xs text-pale">{outlook.advice.text}</p>;
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
    </>
  );
}

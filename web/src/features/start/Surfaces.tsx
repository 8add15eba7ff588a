import type { Surfaces as SurfacesOf } from "../../api/client";
import { useRun, useSignal } from "../run/context";

type Surface = SurfacesOf["items"][number];

/** What moves outside, as it stands: left and right as seen from above; what goes out and in in the middle. */
export function Surfaces({ surfaces }: { surfaces: SurfacesOf }) {
  const left = surfaces.items.filter((i) => i.side === "left");
  const middle = surfaces.items.filter((i) => i.side !== "left" && i.side !== "right");
  const twin = (s: Surface) => surfaces.items.find((i) => i.side === "right" && i.id === s.id.replace(/-left$/, "-right"));
  const fluid = useSignal("fluid.temperature");
  const cold = useSignal("fluid.cold") > 0.5;
  return (
    <section aria-label="Surfaces" data-testid="surfaces" className="rounded-lg border border-line px-3 py-2">
      <div className="mb-1 flex items-baseline justify-between gap-3 text-2xs text-pale">
        <h3>Outside, as it moves</h3>
        <span className={cold ? "text-caution" : ""}>
          fluid <span className="num">{fluid.toFixed(0)}</span> °C{cold && ": cold"}
        </span>
      </div>
      <div className="grid grid-cols-2 gap-x-6 gap-y-0.5">
        <ul className="flex flex-col gap-0.5">
          {left.map((l) => (
            <li key={l.id} className="grid grid-cols-[1fr_5.5rem_1fr] items-center gap-2">
              <Travel surface={l} from="right" />
              <span className="text-center text-2xs">{l.label.replace(/ left/, "")}</span>
              {twin(l) && <Travel surface={twin(l)!} from="left" />}
            </li>
          ))}
        </ul>
        <ul className="flex flex-col gap-0.5">
          {middle.map((m) => (
            <li key={m.id} className="grid grid-cols-[5.5rem_1fr] items-center gap-2">
              <span className="text-2xs">{m.label}</span>
              <Travel surface={m} from="left" />
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}

/** How far one is from its rest: what swings about its middle, what goes out from its root. */
function Travel({ surface, from }: { surface: Surface; from: "left" | "right" }) {
  const { connection } = useRun();
  useSignal(`surface.${surface.id}`);
  const at = connection.value(`surface.${surface.id}`);
  const swings = surface.axis != null || surface.cut != null;
  const share = Math.min(1, Math.abs(at) / 100);
  const words = swings
    ? Math.abs(at) < 3
      ? "middle"
      : `${at > 0 ? "up" : "down"} ${Math.abs(at).toFixed(0)} %`
    : share < 0.03
      ? "in"
      : share > 0.97
        ? "out"
        : `${(share * 100).toFixed(0)} %`;
  const style = swings ? { width: `${share * 50}%`, [from === "left" ? (at > 0 ? "left" : "right") : at > 0 ? "right" : "left"]: "50%" } : { width: `${share * 100}%`, [from]: 0 };
  return (
    <div role="img" aria-label={`${surface.label}: ${words}`} data-surface={surface.id} data-at={at.toFixed(0)} className="relative h-2.5 rounded-sm bg-raised">
      {swings && <span className="absolute inset-y-0 left-1/2 w-px bg-pale" />}
      <span className="absolute inset-y-0 rounded-sm bg-bone" style={style} />
    </div>
  );
}

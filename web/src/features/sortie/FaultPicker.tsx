import { X } from "lucide-react";
import { lazy, Suspense } from "react";
import { useFieldArray, useFormContext } from "react-hook-form";
import type { Fault } from "../../api/client";
import { ChoiceOf, NumberOf } from "./fields";
import type { Situation } from "./situation";

// Folded away at first, and searched by few: not among the first scripts.
const FaultSearch = lazy(() => import("./FaultSearch"));

/** Faults to rehearse against: chosen one by one, or drawn from the seed so that nobody knows. */
export function FaultPicker({ faults }: { faults: readonly Fault[] }) {
  const { control } = useFormContext<Situation>();
  const { fields, append, remove } = useFieldArray({ control, name: "faults" });
  const add = (code: string) => {
    const fault = faults.find((f) => f.code === code);
    if (fault) {
      append({ code, place: fault.places[0] ?? "", at: "0" });
    }
  };
  return (
    <fieldset aria-label="Faults" className="mt-2">
      <div className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_12rem]">
        <Suspense fallback={<p className="text-xs text-pale">The list comes…</p>}>
          <FaultSearch faults={faults.filter((f) => fields.every((c) => c.code !== f.code))} onAdd={add} />
        </Suspense>
        <ChoiceOf
          name="surprises"
          label="Surprises"
          unit="told to nobody"
          options={["0", "1", "2", "3"].map((n) => [n, n === "0" ? "none" : `${n}, drawn from the seed`] as const)}
        />
      </div>
      {fields.map((c, i) => {
        const fault = faults.find((f) => f.code === c.code);
        return (
          <div key={c.id} data-fault={c.code} className="mt-2 grid grid-cols-[1fr_9rem_6rem_2rem] items-end gap-2 border-t border-line pt-2">
            <span className="text-sm">
              {fault?.label ?? c.code}
              <span className="block text-2xs text-pale">{fault?.signature}</span>
            </span>
            {fault && fault.places.length > 0 ? (
              <ChoiceOf name={`faults.${i}.place`} label="In" options={fault.places.map((p) => [p, p.replaceAll("-", " ")] as const)} />
            ) : (
              <span />
            )}
            <NumberOf name={`faults.${i}.at`} label="From" unit="s" />
            <button type="button" aria-label={`Take ${fault?.label ?? c.code} away`} className="rounded p-2 text-pale hover:bg-high" onClick={() => remove(i)}>
              <X className="size-4" />
            </button>
          </div>
        );
      })}
    </fieldset>
  );
}

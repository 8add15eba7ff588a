import { X } from "lucide-react";
import type { Fault } from "../../api/client";
import { Choice, Field, NumberInput } from "../../ui/field";
import type { ChosenFault } from "./situation";

interface Props {
  faults: readonly Fault[];
  chosen: readonly ChosenFault[];
  surprises: string;
  onChange: (part: { faults?: ChosenFault[]; surprises?: string }) => void;
}

/** Faults to rehearse against: chosen one by one, or drawn from the seed so that nobody knows. */
export function FaultPicker({ faults, chosen, surprises, onChange }: Props) {
  const change = (i: number, part: Partial<ChosenFault>) => onChange({ faults: chosen.map((f, k) => (k === i ? { ...f, ...part } : f)) });
  const add = (code: string) => {
    const fault = faults.find((f) => f.code === code);
    if (fault) {
      onChange({ faults: [...chosen, { code, place: fault.places[0] ?? "", at: "0" }] });
    }
  };
  return (
    <section aria-label="Faults" className="rounded-lg bg-panel p-4">
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <div className="sm:col-span-2">
          <Field label="Add a fault">
            <Choice value="" onChange={(e) => add(e.target.value)} options={[["", "none"], ...faults.filter((f) => chosen.every((c) => c.code !== f.code)).map((f) => [f.code, f.label] as const)]} />
          </Field>
        </div>
        <div className="sm:col-span-2">
          <Field label="Surprises" unit="drawn from the seed, told to nobody">
            <Choice value={surprises} onChange={(e) => onChange({ surprises: e.target.value })} options={["0", "1", "2", "3"].map((n) => [n, n === "0" ? "none" : n] as const)} />
          </Field>
        </div>
      </div>
      {chosen.map((c, i) => {
        const fault = faults.find((f) => f.code === c.code)!;
        return (
          <div key={c.code} data-fault={c.code} className="mt-2 grid grid-cols-[1fr_9rem_6rem_2rem] items-end gap-2 border-t border-line pt-2">
            <span className="text-sm">
              {fault.label}
              <span className="block text-2xs text-pale">{fault.signature}</span>
            </span>
            {fault.places.length > 0 ? (
              <Field label="In">
                <Choice value={c.place} onChange={(e) => change(i, { place: e.target.value })} options={fault.places.map((p) => [p, p.replaceAll("-", " ")] as const)} />
              </Field>
            ) : (
              <span />
            )}
            <Field label="From" unit="s">
              <NumberInput value={c.at} onChange={(e) => change(i, { at: e.target.value })} wrong={!Number.isFinite(Number(c.at)) || c.at.trim() === ""} />
            </Field>
            <button type="button" aria-label={`Take ${fault.label} away`} className="rounded p-2 text-pale hover:bg-high" onClick={() => onChange({ faults: chosen.filter((_, k) => k !== i) })}>
              <X className="size-4" />
            </button>
          </div>
        );
      })}
    </section>
  );
}

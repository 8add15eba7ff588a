import type { InputHTMLAttributes, ReactNode, SelectHTMLAttributes } from "react";

export function Field({ label, unit, children }: { label: string; unit?: string; children: ReactNode }) {
  return (
    <label className="block text-sm">
      <span className="mb-0.5 block text-xs text-pale">
        {label}
        {unit && <span className="ml-1 text-2xs">{unit}</span>}
      </span>
      {children}
    </label>
  );
}

export function NumberInput({ wrong, ...rest }: InputHTMLAttributes<HTMLInputElement> & { wrong?: boolean }) {
  return <input inputMode="decimal" aria-invalid={wrong} className={`num w-full ${wrong ? "border-caution" : ""}`} {...rest} />;
}

export function Choice({ options, ...rest }: SelectHTMLAttributes<HTMLSelectElement> & { options: readonly (readonly [string, string])[] }) {
  return (
    <select className="w-full" {...rest}>
      {options.map(([value, label]) => (
        <option key={value} value={value}>
          {label}
        </option>
      ))}
    </select>
  );
}

import clsx from "clsx";
import { useId, type InputHTMLAttributes, type ReactNode } from "react";
import { Choice, type Option } from "./choice";

/** A label over what it names. */
function Label({ htmlFor, label, unit }: { htmlFor: string; label: string; unit?: string }) {
  return (
    <label htmlFor={htmlFor} className="mb-0.5 block truncate text-xs text-pale">
      {label}
      {unit && <span className="ml-1 text-2xs">{unit}</span>}
    </label>
  );
}

interface Named {
  label: string;
  unit?: string;
  /** Said under it. */
  note?: ReactNode;
}

/** A line to type in; what is wrong with it is said at it. */
export function TextField({ label, unit, note, wrong, className, ...rest }: Named & InputHTMLAttributes<HTMLInputElement> & { wrong?: string }) {
  const id = useId();
  return (
    <div className="min-w-0 text-sm">
      <Label htmlFor={id} label={label} unit={unit} />
      <input
        id={id}
        aria-invalid={wrong !== undefined}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        className={clsx("field w-full", wrong && "border-caution", className)}
        {...rest}
      />
      {wrong && (
        <p id={`${id}-wrong`} data-wrong={rest.name} className="mt-0.5 text-2xs leading-4 text-caution">
          ▲ {wrong}
        </p>
      )}
      {note && <p className="mt-1 text-2xs leading-4 text-pale">{note}</p>}
    </div>
  );
}

/** A number to type: digits of one width, and a point or a comma. */
export const NumberField = (props: Parameters<typeof TextField>[0]) => <TextField inputMode="decimal" autoComplete="off" {...props} className={clsx("num", props.className)} />;

/** One of a list, under its label. */
export function ChoiceField({ label, unit, note, ...rest }: Named & { options: readonly Option[]; value: string; onChange: (to: string) => void; name?: string }) {
  const id = useId();
  return (
    <div className="min-w-0 text-sm">
      <Label htmlFor={id} label={label} unit={unit} />
      <Choice id={id} {...rest} />
      {note && <div className="mt-1 text-2xs leading-4 text-pale">{note}</div>}
    </div>
  );
}

import { useFormContext, useWatch, type FieldError, type FieldPath } from "react-hook-form";
import type { Option } from "../../ui/choice";
import { ChoiceField, NumberField } from "../../ui/field";
import type { Situation } from "./situation";

interface Named {
  name: FieldPath<Situation>;
  label: string;
  unit?: string;
}

/** A number of the form; what is wrong with it is said at it, with what would be right. */
export function NumberOf({ name, label, unit }: Named) {
  const { register, getFieldState, formState } = useFormContext<Situation>();
  return <NumberField label={label} unit={unit} wrong={(getFieldState(name, formState).error as FieldError | undefined)?.message} {...register(name)} />;
}

/** A choice of the form. */
export function ChoiceOf({ name, label, unit, options }: Named & { options: readonly Option[] }) {
  const { setValue } = useFormContext<Situation>();
  const value = useWatch<Situation>({ name }) as string;
  return <ChoiceField name={name} label={label} unit={unit} value={value} options={options} onChange={(to) => setValue(name, to, { shouldValidate: true })} />;
}

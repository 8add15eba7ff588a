/** Whether the watch and the table may speak, kept under `name` on this device. */
export function AdviceSwitch({ name, advised, onChange }: { name: string; advised: boolean; onChange: (advised: boolean) => void }) {
  return (
    <label className="flex items-center gap-1 text-2xs text-pale">
      <input
        type="checkbox"
        checked={advised}
        onChange={(e) => {
          onChange(e.target.checked);
          localStorage.setItem(name, e.target.checked ? "on" : "off");
        }}
      />
      Advice
    </label>
  );
}

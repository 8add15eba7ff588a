import { remember } from "../../ui/stored";
import { Switch } from "../../ui/switch";

/** Whether the watch and the table may speak, kept under `name` on this device. */
export function AdviceSwitch({ name, advised, onChange }: { name: string; advised: boolean; onChange: (advised: boolean) => void }) {
  const set = (to: boolean) => {
    onChange(to);
    remember(name, to ? "on" : "off");
  };
  return <Switch label="Advice" on={advised} onChange={set} />;
}

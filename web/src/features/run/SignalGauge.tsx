import { BarGauge } from "../../ui/bar-gauge";
import { useRun, useSignal } from "./context";
import { InHint } from "./InHint";

const none = "time";

/** A gauge of the aircraft, live. A signal without a gauge of its own gets a plain percent bar. Where a heading names its engine, `under` drops that from its name. */
export function SignalGauge({ signal, size, under }: { signal: string; size?: "normal" | "large" | "huge"; under?: string }) {
  const { panel, connection } = useRun();
  const own = panel.gauges.find((g) => g.signal === signal);
  const gauge = own && under && own.label.endsWith(` ${under}`) ? { ...own, label: own.label.slice(0, -under.length - 1) } : own;
  const info = connection.info(signal);
  const value = useSignal(signal);
  const peak = useSignal(gauge?.peak ?? none);
  const ahead = useSignal(gauge?.ahead ?? none);
  const low = useSignal(gauge?.ahead && size === "huge" ? `${gauge.ahead}-low` : none);
  const high = useSignal(gauge?.ahead && size === "huge" ? `${gauge.ahead}-high` : none);
  const bus = useSignal(gauge?.bus ? `bus.${gauge.bus}.live` : none);
  return (
    <InHint of={signal}>
      <BarGauge
        why={signal}
        gauge={gauge ?? { label: plain(signal), min: 0, max: info?.unit === "s" ? 20 : 100, normal: null, limits: [] }}
        value={value}
        unit={info?.unit ?? ""}
        quantum={info?.quantum ?? 1}
        peak={gauge?.peak ? peak : undefined}
        ahead={gauge?.ahead ? ahead : undefined}
        aheadRange={gauge?.ahead && size === "huge" ? [low, high] : undefined}
        blind={gauge?.bus ? bus < 0.5 : false}
        size={size}
      />
    </InHint>
  );
}

function plain(signal: string): string {
  const words = signal.replace(/^task\./, "").replace(/\.progress$/, " held").replace(/\.left$/, ", seconds left").replaceAll(/[.-]/g, " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

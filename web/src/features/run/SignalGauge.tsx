import { memo, type ComponentPropsWithRef } from "react";
import { BarGauge } from "../../ui/bar-gauge";
import { NO_SIGNAL, useLit, useRun, useSignal } from "./context";
import { InHint } from "./InHint";

interface Props {
  signal: string;
  size?: "normal" | "large" | "huge";
  /** Where a heading names its engine, that is dropped from the gauge's name. */
  under?: string;
}

/** A gauge of the aircraft, live. A signal without a gauge of its own gets a plain percent bar. */
export const SignalGauge = memo(function SignalGauge(props: Props) {
  return (
    <InHint of={props.signal}>
      <Live {...props} />
    </InHint>
  );
});

/** What changes with every frame, inside of what does not. */
function Live({ signal, size, under, ...rest }: Props & ComponentPropsWithRef<"div">) {
  const { panel, connection } = useRun();
  const own = panel.gauges.find((g) => g.signal === signal);
  const gauge = own && under && own.label.endsWith(` ${under}`) ? { ...own, label: own.label.slice(0, -under.length - 1) } : own;
  const info = connection.info(signal);
  const value = useSignal(signal);
  const peak = useSignal(gauge?.peak ?? NO_SIGNAL);
  const ahead = useSignal(gauge?.ahead ?? NO_SIGNAL);
  const low = useSignal(gauge?.ahead && size === "huge" ? `${gauge.ahead}-low` : NO_SIGNAL);
  const high = useSignal(gauge?.ahead && size === "huge" ? `${gauge.ahead}-high` : NO_SIGNAL);
  const bus = useSignal(gauge?.bus ? `bus.${gauge.bus}.live` : NO_SIGNAL);
  const lit = useLit();
  return (
    <BarGauge
      {...rest}
      why={signal}
      gauge={gauge ?? { label: plain(signal), min: 0, max: info?.unit === "s" ? 20 : 100, normal: null, limits: [] }}
      value={value}
      unit={info?.unit ?? ""}
      quantum={info?.quantum ?? 1}
      peak={gauge?.peak ? peak : undefined}
      ahead={gauge?.ahead ? ahead : undefined}
      aheadRange={gauge?.ahead && size === "huge" ? [low, high] : undefined}
      blind={gauge?.bus && bus < 0.5 ? "no power" : lit ? undefined : "too dark"}
      size={size}
    />
  );
}

function plain(signal: string): string {
  const words = signal
    .replace(/^task\./, "")
    .replace(/\.progress$/, " held")
    .replace(/\.left$/, ", seconds left")
    .replaceAll(/[.-]/g, " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

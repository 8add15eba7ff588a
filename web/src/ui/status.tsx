export type Status = "off" | "advisory" | "ready" | "caution" | "warning";

export const statusText: Record<Status, string> = {
  off: "text-pale",
  advisory: "text-advisory",
  ready: "text-ready",
  caution: "text-caution",
  warning: "text-warning",
};

const paths: Record<Status, string> = {
  off: "M2 6h8",
  advisory: "M6 1.5 10.5 6 6 10.5 1.5 6Z",
  ready: "M1.5 6.5 4.5 9.5 10.5 2.5",
  caution: "M6 1.2 11 10.3H1Z",
  warning: "M2 2h8v8H2Z",
};

/** A status is never colour alone: each has its own shape. */
export function Shape({ status }: { status: Status }) {
  const open = status === "off" || status === "ready";
  return (
    <svg viewBox="0 0 12 12" aria-hidden className={`mt-0.5 inline-block size-3 shrink-0 ${statusText[status]}`}>
      <path d={paths[status]} fill={open ? "none" : "currentColor"} stroke="currentColor" strokeWidth={open ? 2 : 1} />
    </svg>
  );
}

import { useRunPart } from "./context";

/** A lost connection, told in words with what becomes of the run. */
export function LostConnection() {
  const link = useRunPart((s) => s.link);
  return link === "lost" ? (
    <p role="alert" data-testid="link-lost" className="fixed inset-x-0 bottom-0 z-40 border-t border-caution bg-high px-4 py-2 text-center text-sm text-caution">
      ▲ The connection to the server is lost; this page tries again by itself. The run stands still and what you held springs back. Everything you did before is kept.
    </p>
  ) : null;
}

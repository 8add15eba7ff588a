import { useRunPart } from "./context";

const WHAT_BECOMES = "This page tries again by itself. The run stands still and what you held springs back. Everything you did before is kept.";

/** A lost connection, or a run that does not keep its time: told in words, with what becomes of the run. */
export function LostConnection() {
  const lost = useRunPart((s) => s.link) === "lost";
  const error = useRunPart((s) => s.error);
  const trouble = useRunPart((s) => s.trouble);
  const words = lost ? `${error || "The connection to the server is lost."} ${WHAT_BECOMES}` : trouble;
  return words ? (
    <p
      role="alert"
      data-testid={lost ? "link-lost" : "run-trouble"}
      className="fixed inset-x-0 bottom-0 z-40 border-t border-caution bg-high px-4 py-2 text-center text-sm text-caution"
    >
      ▲ {words}
    </p>
  ) : null;
}

import { useContext, type ReactNode } from "react";
import { useRun } from "./context";
import { useRunUi } from "./run-ui";
import { OpenLinkContext } from "./open-link";

/** A step in one line; pressed, it opens the control it is about, or the link of the chain where it is read. */
export function StepLine({ id, text, pale, children }: { id: string; text: string; pale?: boolean; children?: ReactNode }) {
  const { connection, panel } = useRun();
  const ui = useRunUi();
  const openLink = useContext(OpenLinkContext);
  const step = connection.steps.find((s) => s.id === id);
  const open = () => {
    if (panel.controls.some((c) => c.id === step?.target)) {
      ui.goTo(step!.target!);
    } else if (step?.link) {
      openLink(step.link);
    }
  };
  return (
    <button type="button" data-step={id} onClick={open} title={text} className={`flex w-full items-baseline gap-2 rounded py-1 text-left hover:bg-high ${pale ? "text-pale" : ""}`}>
      <span className="min-w-0 grow leading-4">{text}</span>
      {children}
    </button>
  );
}

import { createContext, useContext } from "react";

/** What any part of a run's screen may ask the screen to do. */
export interface RunUi {
  /** Opens "why will it not take" for a control, lamp or signal; without one, for what the eyes or hands are on. */
  why: (target?: string) => void;
  /** Opens the control's link and puts the focus on it, on the position wanted where one is named. */
  goTo: (control: string, to?: string) => void;
  /** Opens the fault report. */
  report: () => void;
  /** Opens the next link of the chain, or the one before. */
  step: (by: 1 | -1) => void;
}

export const RunUiContext = createContext<RunUi>({ why: () => undefined, goTo: () => undefined, report: () => undefined, step: () => undefined });

export const useRunUi = () => useContext(RunUiContext);

/** The control, lamp or reading under the focus, else under the pointer. */
export function pointedAt(): string | undefined {
  const focused = document.activeElement?.closest<HTMLElement>("[data-why]");
  const hovered = [...document.querySelectorAll<HTMLElement>("[data-why]:hover")].at(-1);
  return (focused ?? hovered)?.dataset.why;
}

/** Puts the focus on a control's position, else on whatever of the control takes it. */
export function focusControl(control: string, to?: string) {
  const all = [...document.querySelectorAll<HTMLElement>(`[data-control="${control}"] :is(button[aria-pressed], [role=radio], [role=slider], input)`)].filter(
    (e) => !e.matches(":disabled"),
  );
  const wanted = to && all.find((e) => e.textContent === to || e.ariaLabel?.endsWith(`: ${to}`) || e.ariaLabel?.endsWith(`: hold ${to}`));
  const at = wanted || all[0];
  if (at) {
    // It was sought out: like one reached by Tab it keeps its own keys.
    at.dataset.own = "";
    at.addEventListener("blur", () => delete at.dataset.own, { once: true });
    at.focus();
  }
}

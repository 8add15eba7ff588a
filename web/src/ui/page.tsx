import type { ReactNode } from "react";
import { NavLink } from "react-router";
import { ThemeControls } from "./theme";

const places = [
  ["/", "Sortie"],
  ["/logbook", "Logbook"],
] as const;

/** The frame of every screen outside a run. */
export function Page({ children }: { children: ReactNode }) {
  return (
    <div className="flex min-h-screen flex-col">
      <header className="flex h-11 items-center gap-5 border-b border-line px-4">
        <span className="font-bold">Hardy Ember</span>
        <nav aria-label="Screens" className="flex gap-1">
          {places.map(([to, label]) => (
            <NavLink key={to} to={to} end className={({ isActive }) => `rounded px-3 py-1 text-sm ${isActive ? "bg-heather-soft text-bone" : "text-pale hover:text-bone"}`}>
              {label}
            </NavLink>
          ))}
        </nav>
        <span className="flex-1" />
        <ThemeControls />
      </header>
      <main className="flex-1 p-4">{children}</main>
      <footer className="px-4 pb-3 text-2xs text-pale">A rehearsal aid. It replaces no flight manual, instructor or licence: the approved manual, local rules and licensed practice always win.</footer>
    </div>
  );
}

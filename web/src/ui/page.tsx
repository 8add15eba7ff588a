import { useQuery } from "@tanstack/react-query";
import { CircleHelp } from "lucide-react";
import { lazy, Suspense, useEffect, useState, type ReactNode } from "react";
import { NavLink } from "react-router";
import { api } from "../api/client";
import { Button } from "./button";
import { ThemeControls } from "./theme";

const Help = lazy(() => import("./help").then((m) => ({ default: m.Help })));

const places = [
  ["/", "Sortie"],
  ["/logbook", "Logbook"],
] as const;

const logins = ["/logins", "Logins"] as const;

/** Whether a key belongs to something that is typed into, or to a dialog. */
const taken = (e: KeyboardEvent) => e.ctrlKey || e.metaKey || e.altKey || (e.target as HTMLElement).closest("input, textarea, [role=dialog], [role=listbox]") !== null;

/** The frame of every screen outside a run. */
export function Page({ screen, children }: { screen: string; children: ReactNode }) {
  const [help, setHelp] = useState(false);
  // A server that asks for no token has nobody to log out.
  const entrance = useQuery({ queryKey: ["entrance"], queryFn: api.entrance, staleTime: Infinity });
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.key === "?" && !taken(e)) {
        setHelp(true);
      }
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, []);
  return (
    <div className="flex min-h-screen flex-col">
      <header className="flex h-11 items-center gap-2 border-b border-line px-2 sm:gap-5 sm:px-4">
        <span className="font-bold whitespace-nowrap max-[24rem]:sr-only">Hardy Ember</span>
        <nav aria-label="Screens" className="flex gap-1">
          {[...places, ...(entrance.data?.needed ? [logins] : [])].map(([to, label]) => (
            <NavLink key={to} to={to} end className={({ isActive }) => `rounded px-2 py-1 text-sm sm:px-3 ${isActive ? "bg-heather-soft text-bone" : "text-pale hover:text-bone"}`}>
              {label}
            </NavLink>
          ))}
        </nav>
        <span className="flex-1" />
        <ThemeControls />
        <Button size="small" look="quiet" onClick={() => setHelp(true)} aria-label="Help">
          <CircleHelp className="size-4" />
        </Button>
      </header>
      <main className="flex-1 p-4">{children}</main>
      <footer className="px-4 pb-3 text-2xs text-pale">
        A rehearsal aid. It replaces no flight manual, instructor or licence: the approved manual, local rules and licensed practice always win.
      </footer>
      {help && (
        <Suspense>
          <Help open screen={screen} onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </div>
  );
}

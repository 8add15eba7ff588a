import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { Link, useParams } from "react-router";
import { api } from "./api/client";
import type { Role } from "./api/live";
import { RunConnection } from "./api/run-connection";
import { RelightScreen } from "./features/relight/RelightScreen";
import { StartScreen } from "./features/start/StartScreen";
import { RunContext, type Run } from "./features/run/context";

/** Opens the run's connection and shows the screen for its kind of start. */
export default function RunScreen({ role }: { role: Role }) {
  const { id = "" } = useParams();
  return <OpenRun key={`${role}/${id}`} id={id} role={role} />;
}

function OpenRun({ id, role }: { id: string; role: Role }) {
  const [connection] = useState(() => new RunConnection(id, role));
  useEffect(() => {
    void connection.open();
    const leave = () => connection.close();
    // Gone back to, a page may come out of the browser's cache as it was left: its line was closed then.
    const back = (e: PageTransitionEvent) => e.persisted && void connection.open();
    window.addEventListener("pagehide", leave);
    window.addEventListener("pageshow", back);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("pageshow", back);
      leave();
    };
  }, [connection]);
  const link = useSyncExternalStore(connection.onState, () => connection.state.link);
  // A run that began with earlier data keeps the controls of that time.
  const { aircraft, data } = connection.snapshot?.header ?? {};
  const panel = useQuery({ queryKey: ["aircraft", aircraft, data], queryFn: () => api.aircraft(aircraft!, data), enabled: !!aircraft, staleTime: Infinity });

  if (link === "gone" || panel.error) {
    return (
      <main className="p-8">
        <h1 className="text-xl">This run cannot be opened</h1>
        <p className="mt-2 text-pale">{panel.error?.message ?? connection.state.error}</p>
        <Link className="mt-4 inline-block text-heather underline" to="/">
          Plan a sortie
        </Link>
      </main>
    );
  }

  if (!connection.snapshot || !panel.data) {
    return <Opening connection={connection} />;
  }

  return <Flown connection={connection} panel={panel.data} />;
}

function Opening({ connection }: { connection: RunConnection }) {
  const { link, error, opening } = useSyncExternalStore(connection.onState, () => connection.state);
  return (
    <p className="p-8 text-pale" role="status">
      {link === "lost" ? `${error || "The server does not answer."} Trying again…` : opening > 0 ? `Opening the run: ${Math.round(opening * 100)} %` : "Opening the run…"}
    </p>
  );
}

// Made once: everything in the run hangs on it.
function Flown({ connection, panel }: Run) {
  const run = useMemo(() => ({ connection, panel }), [connection, panel]);
  return <RunContext.Provider value={run}>{connection.snapshot!.header.start === "air" ? <RelightScreen /> : <StartScreen />}</RunContext.Provider>;
}

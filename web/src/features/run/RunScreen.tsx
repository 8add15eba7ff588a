import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";
import { Link, useParams } from "react-router";
import { api } from "../../api/client";
import { RunConnection } from "../../api/run-connection";
import { RelightScreen } from "../relight/RelightScreen";
import { StartScreen } from "../start/StartScreen";
import { RunContext } from "./context";

/** Opens the run's connection and shows the screen for its kind of start. */
export default function RunScreen() {
  const { id = "" } = useParams();
  return <OpenRun key={id} id={id} />;
}

function OpenRun({ id }: { id: string }) {
  const [connection] = useState(() => new RunConnection(id));
  useEffect(() => {
    void connection.open();
    const leave = () => connection.close();
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [connection]);
  // StrictMode mounts twice: closing belongs to the page, not to the effect's first clean-up.
  const state = useSyncExternalStore(connection.onState, () => connection.state);
  const aircraft = connection.snapshot?.header.aircraft;
  const panel = useQuery({ queryKey: ["aircraft", aircraft], queryFn: () => api.aircraft(aircraft!), enabled: !!aircraft, staleTime: Infinity });

  if (state.link === "gone" || panel.error) {
    return (
      <main className="p-8">
        <h1 className="text-xl">This run cannot be opened</h1>
        <p className="mt-2 text-pale">{panel.error?.message ?? state.error}</p>
        <Link className="mt-4 inline-block text-heather underline" to="/">
          Plan a sortie
        </Link>
      </main>
    );
  }

  if (!connection.snapshot || !panel.data) {
    return <p className="p-8 text-pale">{state.link === "lost" ? "The server does not answer; trying again…" : "Opening the run…"}</p>;
  }

  return (
    <RunContext.Provider value={{ connection, panel: panel.data }}>
      {connection.snapshot.header.start === "air" ? <RelightScreen /> : <StartScreen />}
    </RunContext.Provider>
  );
}

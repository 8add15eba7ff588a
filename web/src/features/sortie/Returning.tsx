import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, type Schemas } from "../../api/client";
import { Button, buttonLook } from "../../ui/button";
import { clock } from "../../ui/format";
import { Shape, statusText } from "../../ui/status";
import { verdicts } from "../../ui/verdicts";

type Run = Schemas["RunPage"]["runs"][number];

interface Props {
  fleet: Schemas["FleetView"];
  pilot: string;
  onRepeat: (run: string) => void;
  onKept: () => void;
}

/** What a pilot who comes back wants first: go on with what was left unfinished, fly the last one again, take a sortie that was kept. */
export function Returning({ fleet, pilot, onRepeat, onKept }: Props) {
  const name = pilot.trim();
  const runs = useQuery({ queryKey: ["runs", "of", name], queryFn: () => api.runs({ pilot: name, limit: "10" }), enabled: name !== "" }).data?.runs ?? [];
  const kept = useQuery({ queryKey: ["sorties", name], queryFn: () => api.sorties(name) }).data ?? [];
  const open = runs.find((r) => !r.ended && r.seconds > 0);
  const last = runs.find((r) => r.ended);
  return (
    <section aria-label="Where you left off" data-testid="returning" className="flex flex-wrap items-stretch gap-2 text-sm">
      {open && (
        <Card title="Not ended" run={open} fleet={fleet}>
          <Link className={buttonLook({ look: "primary", size: "small" })} to={`/run/${open.id}`}>
            Go on at {clock(open.seconds)}
          </Link>
        </Card>
      )}
      {last && (
        <Card title="Flown last" run={last} fleet={fleet}>
          <Button size="small" onClick={() => onRepeat(last.id)}>
            Set up again
          </Button>
        </Card>
      )}
      <div className="flex items-center gap-3 rounded-lg bg-panel px-3 py-2">
        <span>
          <span className="block text-2xs text-pale">Kept sorties</span>
          {kept.length === 0 ? "none yet" : kept.length === 1 ? "1 sortie" : `${kept.length} sorties`}
        </span>
        <Button size="small" onClick={onKept}>
          {kept.length === 0 ? "Keep or open" : "Open"}
        </Button>
      </div>
    </section>
  );
}

function Card({ title, run: r, fleet, children }: { title: string; run: Run; fleet: Schemas["FleetView"]; children: React.ReactNode }) {
  const verdict = r.ended && r.verdict ? verdicts[r.verdict] : undefined;
  return (
    <div className="flex items-center gap-3 rounded-lg bg-panel px-3 py-2">
      <span>
        <span className="block text-2xs text-pale">
          {title}, {r.created.slice(5, 16).replace("T", " ")}Z
        </span>
        {fleet.aircraft.find((a) => a.id === r.aircraft)?.name ?? r.aircraft}, {fleet.places.find((p) => p.id === r.place)?.name ?? r.place}
        {verdict && (
          <span className={`ml-2 text-xs whitespace-nowrap ${statusText[verdict.status]}`}>
            <Shape status={verdict.status} /> {verdict.word}
          </span>
        )}
      </span>
      {children}
    </div>
  );
}

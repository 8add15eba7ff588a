import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/field";
import { clock } from "../../ui/format";
import { Page } from "../../ui/page";
import { Shape, statusText } from "../../ui/status";
import { verdicts } from "../debrief/verdicts";

const LIMIT_MB = 8;

type Run = Schemas["RunPage"]["runs"][number];

/** Rows asked for at once. */
const PAGE = "50";

const beginnings: Record<string, string> = { first: "first start", turnaround: "turnaround", air: "air restart" };

interface Filter {
  pilot: string;
  verdict: string;
  aircraft: string;
  beginning: string;
}

export default function LogbookScreen() {
  const [filter, setFilter] = useState<Filter>({ pilot: "", verdict: "", aircraft: "", beginning: "" });
  const fleet = useQuery({ queryKey: ["fleet"], queryFn: api.fleet, staleTime: Infinity });
  const pilots = useQuery({ queryKey: ["pilots"], queryFn: api.pilots });
  const runs = useInfiniteQuery({
    queryKey: ["runs", filter],
    queryFn: ({ pageParam }) => api.runs({ ...Object.fromEntries(Object.entries(filter).filter(([, value]) => value)), limit: PAGE, ...pageParam }),
    initialPageParam: {} as Record<string, string>,
    // The next page begins after the last row of this one: by its time and, for runs of the same moment, its id.
    getNextPageParam: (page) => (page.runs.length < Number(PAGE) ? undefined : { before: page.runs.at(-1)!.created, beforeId: page.runs.at(-1)!.id }),
  });
  const rows = runs.data?.pages.flatMap((p) => p.runs) ?? [];
  const total = runs.data?.pages[0]?.total ?? 0;
  const filtered = Object.values(filter).some(Boolean);
  const choice = (name: keyof Filter, label: string, every: string, options: readonly (readonly [string, string])[]) => (
    <Choice aria-label={label} style={{ width: "10rem" }} value={filter[name]} onChange={(e) => setFilter({ ...filter, [name]: e.target.value })} options={[["", every], ...options]} />
  );
  return (
    <Page>
      <div className="mx-auto max-w-7xl">
        <div className="mb-3 flex flex-wrap items-end gap-3">
          <h1 className="mr-auto text-2xl font-bold">Logbook</h1>
          {choice("pilot", "Callsign", "every callsign", pilots.data?.map((p) => [p, p] as const) ?? [])}
          {choice("aircraft", "Type", "every type", fleet.data?.aircraft.map((a) => [a.id, a.name] as const) ?? [])}
          {choice("beginning", "Beginning", "every beginning", Object.entries(beginnings))}
          {choice("verdict", "Verdict", "every verdict", Object.entries(verdicts).map(([id, v]) => [id, v.word] as const))}
          <Import />
        </div>
        {[runs.error, fleet.error, pilots.error].filter((e) => e !== null).map((e) => (
          <p key={e.message} role="alert" className="text-caution">
            ▲ {e.message}
          </p>
        ))}
        {runs.data && rows.length === 0 && (
          <p className="rounded-lg bg-panel p-6 text-pale">
            {filtered ? "No run is like that. " : "No run here yet. "}
            <Link to="/" className="text-heather underline">Plan a sortie</Link> and fly it, or import a run file.
          </p>
        )}
        {rows.length > 0 && (
          <div className="overflow-x-auto rounded-lg bg-panel">
            <table className="w-full text-sm">
              <thead className="text-left text-xs text-pale">
                <tr>
                  {["Flown (Z)", "Callsign", "Type", "Beginning", "School", "Place", "Time", "Peak", "Verdict", ""].map((h) => (
                    <th key={h} className="px-3 py-2 font-normal">
                      {h}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((r) => (
                  <Row key={r.id} run={r} fleet={fleet.data} />
                ))}
              </tbody>
            </table>
            <p className="flex items-center gap-4 px-3 py-2 text-xs text-pale">
              <span data-testid="shown">
                {rows.length} shown of {total}
                {filtered ? " like that" : " in the logbook"}.
              </span>
              {runs.hasNextPage && rows.length < total && (
                <Button size="small" onClick={() => void runs.fetchNextPage()} disabled={runs.isFetchingNextPage} data-testid="more">
                  Show more
                </Button>
              )}
            </p>
          </div>
        )}
      </div>
    </Page>
  );
}

function Row({ run: r, fleet }: { run: Run; fleet?: Schemas["FleetView"] }) {
  const v = r.ended && r.verdict ? verdicts[r.verdict] : undefined;
  const aircraft = fleet?.aircraft.find((a) => a.id === r.aircraft);
  const schools = aircraft?.beginnings.find((s) => s.beginning === r.beginning)?.schools ?? [];
  // Only what was chosen otherwise than the first answer is worth a word.
  const chosen = Object.entries(r.school).flatMap(([question, answer]) => {
    const asked = schools.find((s) => s.id === question);
    return asked && asked.answers[0]?.id === answer ? [] : [asked?.answers.find((a) => a.id === answer)?.label ?? answer];
  });
  return (
    <tr data-testid="run-row" className="border-t border-line hover:bg-raised">
      <td className="num px-3 py-1.5 text-xs whitespace-nowrap">{r.created.slice(0, 16).replace("T", " ")}</td>
      <td className="px-3">{r.pilot || "–"}</td>
      <td className="px-3">{aircraft?.name ?? r.aircraft}</td>
      <td className="px-3 text-xs whitespace-nowrap">
        {beginnings[r.beginning] ?? r.beginning}
        {r.parent && <span className="text-pale"> · fork</span>}
      </td>
      <td className="max-w-44 truncate px-3 text-xs" title={chosen.join(", ")}>
        {chosen.join(", ") || "–"}
      </td>
      <td className="px-3 text-xs whitespace-nowrap">{fleet?.places.find((p) => p.id === r.place)?.name ?? r.place}</td>
      <td className="num px-3">{clock(r.seconds)}</td>
      <td className="num px-3 whitespace-nowrap">{r.peakC != null ? `${r.peakC} °C` : "–"}</td>
      <td className="px-3">
        {v ? (
          <span className={`flex items-center gap-1.5 ${statusText[v.status]}`}>
            <Shape status={v.status} />
            <span className="text-xs whitespace-nowrap" title={r.sentence ?? ""}>
              {v.word}
              {r.findings ? ` · ${r.findings} ${r.findings === 1 ? "finding" : "findings"}` : ""}
            </span>
          </span>
        ) : (
          <span className="text-xs text-pale">not ended</span>
        )}
      </td>
      <td className="px-3 text-right whitespace-nowrap">
        <Link className="text-heather underline" to={`/debrief/${r.id}`}>
          debrief
        </Link>
        {!r.ended && (
          <>
            <Link className="ml-3 text-heather underline" to={`/run/${r.id}`}>
              go on
            </Link>
            <Link className="ml-3 text-heather underline" to={`/look/${r.id}`}>
              look on
            </Link>
          </>
        )}
      </td>
    </tr>
  );
}

function Import() {
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const load = useMutation({
    mutationFn: async (f: File) => {
      if (f.size > LIMIT_MB << 20) {
        throw new Error(`${f.name} has ${Math.round(f.size / 1048576)} MB; a run has at most ${LIMIT_MB}. Nothing was changed.`);
      }

      return api.importRun(await f.text());
    },
    onSuccess: ({ id }) => {
      void queries.invalidateQueries({ queryKey: ["runs"] });
      navigate(`/debrief/${id}`);
    },
  });
  return (
    <>
      <input ref={file} type="file" accept=".ndjson,.jsonl,.txt" className="hidden" aria-label="Run file" onChange={(e) => e.target.files?.[0] && load.mutate(e.target.files[0])} />
      <Button onClick={() => file.current?.click()} disabled={load.isPending}>
        Import a run
      </Button>
      {load.error && (
        <p role="alert" className="w-full text-sm text-caution">
          ▲ {load.error.message}
        </p>
      )}
    </>
  );
}

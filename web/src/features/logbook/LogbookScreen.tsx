import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../../api/client";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/choice";
import { Page } from "../../ui/page";
import { verdicts } from "../../ui/verdicts";
import { beginnings, RunTable } from "./RunTable";

const LIMIT_MB = 8;

/** Rows asked for at once. */
const PAGE = "50";

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
    <Choice aria-label={label} name={name} className="max-w-40" value={filter[name]} onChange={(to) => setFilter({ ...filter, [name]: to })} options={[["", every], ...options]} />
  );
  return (
    <Page screen="logbook">
      <div className="mx-auto max-w-[110rem]">
        <div className="mb-3 flex flex-wrap items-end gap-3">
          <h1 className="mr-auto text-2xl font-bold">Logbook</h1>
          {choice("pilot", "Callsign", "every callsign", pilots.data?.map((p) => [p, p] as const) ?? [])}
          {choice("aircraft", "Type", "every type", fleet.data?.aircraft.map((a) => [a.id, a.name] as const) ?? [])}
          {choice("beginning", "Beginning", "every beginning", Object.entries(beginnings))}
          {choice(
            "verdict",
            "Verdict",
            "every verdict",
            Object.entries(verdicts).map(([id, v]) => [id, v.word] as const),
          )}
          <Import />
        </div>
        {[runs.error, fleet.error, pilots.error]
          .filter((e) => e !== null)
          .map((e) => (
            <p key={e.message} role="alert" className="text-caution">
              ▲ {e.message}
            </p>
          ))}
        {runs.data && rows.length === 0 && (
          <p className="rounded-lg bg-panel p-6 text-pale">
            {filtered ? "No run is like that. " : "No run here yet. "}
            <Link to="/" className="text-heather underline">
              Plan a sortie
            </Link>{" "}
            and fly it, or import a run file.
          </p>
        )}
        {rows.length > 0 && (
          <RunTable
            rows={rows}
            fleet={fleet.data}
            total={total}
            filtered={filtered}
            onMore={runs.hasNextPage && rows.length < total && !runs.isFetchingNextPage ? () => void runs.fetchNextPage() : undefined}
          />
        )}
      </div>
    </Page>
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

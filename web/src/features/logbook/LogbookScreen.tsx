import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../../api/client";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/field";
import { clock } from "../../ui/format";
import { Page } from "../../ui/page";
import { Shape, statusText } from "../../ui/status";
import { verdicts } from "../debrief/verdicts";

const LIMIT_MB = 8;

export default function LogbookScreen() {
  const [pilot, setPilot] = useState("");
  const [verdict, setVerdict] = useState("");
  const filter = { ...(pilot && { pilot }), ...(verdict && { verdict }), limit: "200" };
  const runs = useQuery({ queryKey: ["runs", filter], queryFn: () => api.runs(filter) });
  const all = useQuery({ queryKey: ["runs", { limit: "200" }], queryFn: () => api.runs({ limit: "200" }) });
  const pilots = [...new Set(all.data?.runs.map((r) => r.pilot).filter(Boolean) ?? [])].sort();
  return (
    <Page>
      <div className="mx-auto max-w-6xl">
        <div className="mb-3 flex flex-wrap items-end gap-3">
          <h1 className="mr-auto text-2xl font-bold">Logbook</h1>
          <Choice aria-label="Callsign" style={{ width: "10rem" }} value={pilot} onChange={(e) => setPilot(e.target.value)} options={[["", "every callsign"], ...pilots.map((p) => [p, p] as const)]} />
          <Choice aria-label="Verdict" style={{ width: "12rem" }} value={verdict} onChange={(e) => setVerdict(e.target.value)} options={[["", "every verdict"], ...Object.entries(verdicts).map(([id, v]) => [id, v.word] as const)]} />
          <Import />
        </div>
        {runs.error && <p className="text-caution">▲ {runs.error.message}</p>}
        {runs.data?.runs.length === 0 && (
          <p className="rounded-lg bg-panel p-6 text-pale">
            No run here yet. <Link to="/" className="text-heather underline">Plan a sortie</Link> and fly it, or import a run file.
          </p>
        )}
        {runs.data && runs.data.runs.length > 0 && (
          <div className="overflow-x-auto rounded-lg bg-panel">
            <table className="w-full text-sm">
              <thead className="text-left text-xs text-pale">
                <tr>
                  {["Flown (Z)", "Callsign", "What", "Place", "Time", "Peak", "Verdict", ""].map((h) => (
                    <th key={h} className="px-3 py-2 font-normal">
                      {h}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {runs.data.runs.map((r) => {
                  const v = r.ended && r.verdict ? verdicts[r.verdict] : undefined;
                  return (
                    <tr key={r.id} data-testid="run-row" className="border-t border-line hover:bg-raised">
                      <td className="num px-3 py-1.5 text-xs whitespace-nowrap">{r.created.slice(0, 16).replace("T", " ")}</td>
                      <td className="px-3">{r.pilot || "–"}</td>
                      <td className="px-3 text-xs">
                        {r.start === "air" ? "air restart" : "cold start"}
                        {r.parent && <span className="text-pale"> · fork</span>}
                      </td>
                      <td className="px-3 text-xs">{r.place}</td>
                      <td className="num px-3">{clock(r.seconds)}</td>
                      <td className="num px-3">{r.peakC ? `${r.peakC} °C` : "–"}</td>
                      <td className="max-w-96 px-3">
                        {v ? (
                          <span className={`flex items-center gap-1.5 ${statusText[v.status]}`}>
                            <Shape status={v.status} />
                            <span className="truncate text-xs" title={r.sentence ?? ""}>
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
                          <Link className="ml-3 text-heather underline" to={`/run/${r.id}`}>
                            go on
                          </Link>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
            <p className="px-3 py-2 text-xs text-pale">
              {runs.data.runs.length} shown of {runs.data.total} in the logbook.
            </p>
          </div>
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

import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { api } from "../../api/client";
import { Page } from "../../ui/page";
import { Setup } from "./Setup";
import { firstSituation, situationOf } from "./situation";

/** The sortie: set up anew, or as an address says: <c>/?sortie=CODE</c> hands one on, <c>/?run=ID</c> flies a run again. */
export function SortieScreen() {
  const [search] = useSearchParams();
  const [code, run] = [search.get("sortie"), search.get("run")];
  const fleet = useQuery({ queryKey: ["fleet"], queryFn: api.fleet, staleTime: Infinity });
  const wanted = useQuery({
    queryKey: ["sortie", code, run],
    queryFn: () => (code !== null ? api.decodeSortie(code) : api.sortieOfRun(run!)),
    enabled: code !== null || run !== null,
    retry: false,
    staleTime: Infinity,
  });
  const waits = wanted.isLoading || fleet.isPending;
  const taken = fleet.data && wanted.data ? situationOf(wanted.data.header, fleet.data) : null;
  return (
    <Page screen="sortie">
      {fleet.error && <p className="text-caution">▲ {fleet.error.message}</p>}
      {waits && !fleet.error && <p className="text-pale">Setting up…</p>}
      {wanted.error && (
        <p role="alert" className="mx-auto mb-3 max-w-7xl rounded-lg border border-caution px-4 py-2 text-sm text-caution">
          ▲ What this address carries cannot be set up: {wanted.error.message}. The usual sortie stands here instead.
        </p>
      )}
      {fleet.data && !waits && (
        <Setup key={`${code}/${run}`} fleet={fleet.data} first={taken ?? firstSituation(fleet.data)} name={taken && code !== null ? wanted.data?.name : undefined} />
      )}
    </Page>
  );
}

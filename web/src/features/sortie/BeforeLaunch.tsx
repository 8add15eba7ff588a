import { useQuery } from "@tanstack/react-query";
import { api, type RunHeader } from "../../api/client";
import { Button } from "../../ui/button";
import { clock } from "../../ui/format";
import { Shape } from "../../ui/status";
import { useBegin } from "./use-begin";
import { useSettled } from "./use-settled";

/** Three short flights before the start, for today's weight and weather and for what this pilot flies least well. */
export function BeforeLaunch({ header, ok }: { header: RunHeader; ok: boolean }) {
  const { aircraft, place, spot, seed, conditions, loading, pilot, mode } = header;
  const sortie = { aircraft, place, spot, seed, start: "first", conditions, loading, pilot, mode } as RunHeader;
  const asked = JSON.stringify(sortie);
  const key = useSettled(asked, 350);
  const set = useQuery({
    queryKey: ["before-launch", key],
    queryFn: ({ signal }) => api.beforeLaunch(JSON.parse(key) as RunHeader, signal),
    enabled: ok,
    retry: false,
    placeholderData: (before) => before,
  });
  const fly = useBegin();
  if (!set.data || set.data.drills.length === 0) {
    return null;
  }

  const { drills, seconds, done } = set.data;
  // What is shown while another situation is being computed is not that situation's.
  const current = key === asked && !set.isPlaceholderData;
  return (
    <section aria-label="Before the launch" className="rounded-lg bg-panel p-4 text-sm">
      <div className="flex items-baseline justify-between">
        <h2 className="font-bold">Before the launch</h2>
        <span className="num text-xs text-pale" data-testid="drills-done">
          {done} of 3 flown
        </span>
      </div>
      <p className="mb-2 text-2xs text-pale">Three drills for today, about {clock(seconds)} together. They count for four hours.</p>
      <ul className="flex flex-col gap-2">
        {drills.map((d) => (
          <li key={d.id} data-drill={d.id} className="flex items-start gap-2 border-t border-line pt-2">
            <span className="min-w-0 flex-1">
              {d.done && <Shape status="ready" />} {d.title}
              <span className="num ml-2 text-2xs text-pale">{clock(d.seconds)}</span>
              <span className="block text-2xs text-pale">{d.why}</span>
            </span>
            <Button disabled={fly.isPending || !current} onClick={() => fly.mutate(d.header)}>
              Fly it
            </Button>
          </li>
        ))}
      </ul>
      {fly.error && (
        <p role="alert" className="mt-2 text-xs text-caution">
          ▲ {fly.error.message}
        </p>
      )}
    </section>
  );
}

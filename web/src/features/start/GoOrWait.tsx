import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { GoPlot } from "../../ui/go-plot";
import { useRun, useSignal } from "../run/context";

const EVERY_S = 5;

/** Go now or wait: the error at the end of the leg against the moment of going, and where this alignment stands on it. */
export function GoOrWait() {
  const { connection } = useRun();
  const aligned = useSignal("ins.aligned");
  const taken = useSignal("ins.navigating") > 0;
  const answer = useQuery({
    queryKey: ["go-or-wait", connection.id, Math.floor(aligned / EVERY_S), aligned > 0, taken],
    queryFn: () => api.goOrWait(connection.id),
    retry: false,
    staleTime: Infinity,
    gcTime: 0,
    placeholderData: (previous) => previous,
  });
  if (answer.error) {
    return <p className="text-xs text-caution">▲ {answer.error.message}</p>;
  }

  return answer.data ? <GoPlot answer={answer.data} aligned={aligned} /> : null;
}

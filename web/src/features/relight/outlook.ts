import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { useRun, useRunPart, useSeconds, useSignal } from "../run/context";

/** Flown time after which the methods are flown ahead anew, s: a few hundred feet. */
const ANEW_S = 3;

/** Everything that is flown ahead from here: anew every few seconds, and at once when an engine lights or something else is asked for. */
export function useOutlook(dead: string) {
  const { connection } = useRun();
  const ended = useRunPart((s) => s.ended);
  const lit = useSignal(`${dead}.lit`) > 0.5;
  const pitch = useSignal("pitch");
  const speed = useSignal("airspeed");
  const seconds = useSeconds();
  return useQuery({
    queryKey: ["relight-outlook", connection.id, Math.floor(seconds / ANEW_S), lit, pitch, speed],
    queryFn: ({ signal }) => api.runRelightOutlook(connection.id, signal),
    enabled: !ended && connection.snapshot?.header.mode !== "alone",
    staleTime: Infinity,
    gcTime: 10_000,
    placeholderData: (before) => before,
  });
}

import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, type RunHeader } from "../../api/client";
import { remember } from "../../ui/stored";

/** Begins a run, and remembers for the next time who flew what. */
export function useBegin() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (header: RunHeader) => {
      remember("pilot", header.pilot ?? "");
      remember("aircraft", header.aircraft);
      return api.createRun(header);
    },
    onSuccess: ({ id }) => navigate(`/run/${id}`),
  });
}

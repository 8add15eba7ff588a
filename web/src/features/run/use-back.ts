import { useCallback } from "react";
import { useNavigate } from "react-router";
import { api } from "../../api/client";
import { showToast } from "../../ui/toast-store";
import { useRun } from "./context";

/** Goes back in time by forking the run: what was flown stays in the logbook as it was. */
export function useBack() {
  const { connection } = useRun();
  const navigate = useNavigate();
  return useCallback(
    (seconds: number) => {
      api
        .fork(connection.id, Math.max(0, connection.time - seconds))
        .then(({ id }) => navigate(`/run/${id}`))
        .catch((error: Error) => showToast(error.message, "caution"));
    },
    [connection, navigate],
  );
}

import type { Status } from "./status";

export const verdicts: Record<string, { word: string; status: Status }> = {
  "launch-ready": { word: "Launch-ready", status: "ready" },
  "ready-with-defects": { word: "Ready with defects", status: "caution" },
  "not-ready": { word: "Not ready", status: "warning" },
  "aircraft-damaged": { word: "Aircraft damaged", status: "warning" },
};

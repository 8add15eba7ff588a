import type { components } from "./types";

export type Schemas = components["schemas"];
export type RunHeader = Schemas["RunHeader"];
export type Panel = Omit<Schemas["PanelView"], "controls" | "gauges"> & { controls: Control[]; gauges: Gauge[] };
/** What the server always writes, though a data file may leave it out. */
type Filled<T, K extends keyof T> = Omit<T, K> & Required<Pick<T, K>>;
export type Control = Filled<Schemas["ControlDefinition"], "positions" | "sprung" | "min" | "max" | "step" | "unit">;
export type Sight = Schemas["SightDefinition"];
export type Surfaces = Schemas["SurfacesDefinition"];
export type Gauge = Filled<Schemas["GaugeDefinition"], "limits">;
export type Lamp = Schemas["LampDefinition"];
export type Link = Schemas["LinkDefinition"];
export type Debrief = Schemas["DebriefView"];
export type Finding = Schemas["Finding"];

export type WhyAnswer = Schemas["WhyAnswer"];
export type Fault = Schemas["FaultView"];
export type StartCard = Schemas["StartCard"];
export type Starts = Schemas["StartsView"];
export type StartOutlook = Schemas["StartOutlook"];
export type GoOrWait = Schemas["GoOrWait"];
export type RelightOutlook = Schemas["RelightOutlook"];
export type RelightEnvelope = Schemas["RelightEnvelope"];
export type Sortie = Schemas["Sortie"];
export type KeptSortie = Schemas["SortieView"];
export type LinkHeld = Schemas["LinkHeld"];
export type Comparison = Schemas["Comparison"];
export type LastChance = Schemas["LastChance"];

/** An answer of the server that says what was wrong with which field. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly field: string,
    readonly detail: string,
  ) {
    super(field ? `${field}: ${detail}` : detail);
  }
}

/** Leads to where the token is asked for, and back. */
export function askForToken() {
  const { pathname, search } = window.location;
  if (pathname !== "/login") {
    window.location.assign(`/login?${new URLSearchParams({ to: pathname + search }).toString()}`);
  }
}

async function ask<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, init);
  } catch (error) {
    if (init?.signal?.aborted) {
      throw error; // nobody waits for it any more
    }

    throw new ApiError(0, "", "The server does not answer. Nothing was changed.");
  }

  if (response.status === 401) {
    askForToken();
  }

  if (!response.ok) {
    const problem = (await response.json().catch(() => ({}))) as { detail?: string; title?: string; field?: string };
    throw new ApiError(response.status, problem.field ?? "", problem.detail ?? problem.title ?? `The server answered ${response.status}.`);
  }

  return (response.status === 204 ? undefined : await response.json()) as T;
}

const post = <T>(path: string, body: unknown, signal?: AbortSignal) =>
  ask<T>(path, { signal, method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

export const api = {
  login: (token: string) => post<undefined>("/login", { token }),
  entrance: () => ask<Schemas["EntranceView"]>("/login"),
  logout: () => ask<undefined>("/logout", { method: "POST" }),
  logins: () => ask<Schemas["LoginView"][]>("/logins"),
  endLogin: (id: string) => ask<undefined>(`/logins/${encodeURIComponent(id)}`, { method: "DELETE" }),
  fleet: () => ask<Schemas["FleetView"]>("/fleet"),
  aircraft: (id: string, data?: string | null) => ask<Panel>(`/aircraft/${encodeURIComponent(id)}${data ? `?data=${encodeURIComponent(data)}` : ""}`),
  preview: (header: RunHeader) => post<Schemas["PreviewView"]>("/preview", header),
  forecast: (header: RunHeader, signal?: AbortSignal) => post<Schemas["ForecastView"]>("/forecast", header, signal),
  startOutlook: (header: RunHeader, signal?: AbortSignal) => post<StartOutlook>("/start-outlook", header, signal),
  runStartOutlook: (id: string) => ask<StartOutlook>(`/runs/${encodeURIComponent(id)}/start-outlook`),
  relightOutlook: (header: RunHeader, signal?: AbortSignal) => post<RelightOutlook>("/relight-outlook", header, signal),
  lastChances: (id: string, signal?: AbortSignal) => ask<LastChance[]>(`/runs/${encodeURIComponent(id)}/last-chances`, { signal }),
  beforeLaunch: (sortie: RunHeader, signal?: AbortSignal) => post<Schemas["BeforeLaunch"]>("/before-launch", sortie, signal),
  runRelightOutlook: (id: string, signal?: AbortSignal, at?: number) =>
    ask<RelightOutlook>(`/runs/${encodeURIComponent(id)}/relight-outlook${at === undefined ? "" : `?at=${at}`}`, { signal }),
  relightEnvelope: (id: string, signal?: AbortSignal) => ask<RelightEnvelope>(`/runs/${encodeURIComponent(id)}/relight-envelope`, { signal }),
  starts: (id: string) => ask<Starts>(`/runs/${encodeURIComponent(id)}/starts`),
  positions: (header: RunHeader) => post<Schemas["StandsAt"][]>("/positions", header),
  why: (id: string, target: string, at?: number) =>
    ask<WhyAnswer>(`/runs/${encodeURIComponent(id)}/why?${new URLSearchParams({ target, ...(at === undefined ? {} : { at: String(at) }) }).toString()}`),
  startPosition: (id: string) => ask<Schemas["StartPosition"]>(`/runs/${encodeURIComponent(id)}/start-position`),
  goOrWait: (id: string) => ask<GoOrWait>(`/runs/${encodeURIComponent(id)}/go-or-wait`),
  without: (id: string, source: string) => ask<Schemas["Drop"]>(`/runs/${encodeURIComponent(id)}/without?source=${encodeURIComponent(source)}`),
  createRun: (header: RunHeader) => post<{ id: string }>("/runs", header),
  sorties: (pilot: string) => ask<KeptSortie[]>(`/sorties?${new URLSearchParams({ pilot }).toString()}`),
  keepSortie: (sortie: Sortie) => post<KeptSortie>("/sorties", sortie),
  forgetSortie: (id: string) => ask<undefined>(`/sorties/${encodeURIComponent(id)}`, { method: "DELETE" }),
  readSortie: (text: string) => ask<Sortie>("/sorties/read", { method: "POST", headers: { "content-type": "application/json" }, body: text }),
  decodeSortie: (code: string) => ask<Sortie>(`/sorties/read?${new URLSearchParams({ sortie: code }).toString()}`),
  sortieOfRun: (id: string) => ask<Sortie>(`/runs/${encodeURIComponent(id)}/sortie`),
  bookStarts: () => ask<Schemas["BookStart"][]>("/fleet/starts"),
  signatures: (ids: readonly string[]) => ask<Record<string, LinkHeld[]>>(`/runs/held?${new URLSearchParams(ids.map((id) => ["id", id])).toString()}`),
  work: () => ask<Schemas["WorkView"]>("/work"),
  pilots: () => ask<string[]>("/pilots"),
  runs: (filter: Record<string, string>) => ask<Schemas["RunPage"]>(`/runs?${new URLSearchParams(filter).toString()}`),
  debrief: (id: string, signal?: AbortSignal) => ask<Debrief>(`/runs/${encodeURIComponent(id)}/debrief`, { signal }),
  comparison: (id: string, other: string, signal?: AbortSignal) => ask<Comparison>(`/runs/${encodeURIComponent(id)}/comparison?with=${encodeURIComponent(other)}`, { signal }),
  fork: (id: string, at: number, method?: string) => post<{ id: string }>(`/runs/${encodeURIComponent(id)}/fork`, { at, method }),
  importRun: (text: string) => ask<{ id: string }>("/runs/import", { method: "POST", headers: { "content-type": "application/x-ndjson" }, body: text }),
};

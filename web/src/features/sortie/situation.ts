import type { RunHeader, Schemas } from "../../api/client";

/** What the set-up form holds; numbers stay text until they are sent, so that half-typed ones survive. */
export interface Situation {
  pilot: string;
  place: string;
  spot: string;
  start: "first" | "air";
  oatC: string;
  qnhHpa: string;
  windFromDeg: string;
  windKt: string;
  fuelLb: string;
  storesLb: string;
  school: Record<string, string>;
  fault: string;
  faultEngine: string;
  mode: "guided" | "prompted" | "alone";
  heightFt: string;
  easKt: string;
  dead: string;
  other: "lost" | "idle";
  seed: string;
}

export function firstSituation(fleet: Schemas["FleetView"]): Situation {
  const place = fleet.places.find((p) => p.id === "skerrow-main") ?? fleet.places[0]!;
  const aircraft = fleet.aircraft[0]!;
  return {
    pilot: localStorage.getItem("pilot") ?? "Tinder",
    ...weatherOf(place),
    start: "first",
    fuelLb: String(aircraft.internalFuelLb),
    storesLb: "1500",
    school: {},
    fault: "",
    faultEngine: aircraft.engines[0]!,
    mode: "guided",
    heightFt: "25000",
    easKt: "230",
    dead: aircraft.engines[0]!,
    other: "lost",
    seed: String(1 + Math.floor(Math.random() * 99999)),
  };
}

export function weatherOf(place: Schemas["PlaceDefinition"]) {
  const { oatC, qnhHpa, windFromDeg, windKt } = place.usual;
  return { place: place.id, spot: place.spots[0]!.id, oatC: String(oatC), qnhHpa: String(qnhHpa), windFromDeg: String(windFromDeg), windKt: String(windKt) };
}

/** The field that is not a number, or null. */
export function badNumber(s: Situation): string | null {
  const fields: (keyof Situation)[] = ["oatC", "qnhHpa", "windFromDeg", "windKt", "fuelLb", "storesLb", "seed", ...(s.start === "air" ? (["heightFt", "easKt"] as const) : [])];
  return fields.find((f) => String(s[f]).trim() === "" || !Number.isFinite(Number(s[f]))) ?? null;
}

export function headerOf(s: Situation, aircraft: Schemas["AircraftView"], faults: readonly Schemas["FaultView"][]): RunHeader {
  const fault = faults.find((f) => f.code === s.fault);
  const questions = aircraft.starts.find((x) => x.start === s.start)?.schools.map((q) => q.id) ?? [];
  return {
    aircraft: aircraft.id,
    place: s.place,
    spot: s.spot,
    seed: Math.round(Number(s.seed)),
    start: s.start,
    conditions: { oatC: Number(s.oatC), qnhHpa: Number(s.qnhHpa), windFromDeg: Number(s.windFromDeg), windKt: Number(s.windKt) },
    loading: { fuelLb: Number(s.fuelLb), storesLb: Number(s.storesLb) },
    school: Object.fromEntries(Object.entries(s.school).filter(([q]) => questions.includes(q))),
    faults: fault ? [{ code: fault.code, engine: fault.engine ? s.faultEngine : null }] : [],
    flight: s.start === "air" ? { heightFt: Number(s.heightFt), easKt: Number(s.easKt), dead: s.dead, other: s.other } : null,
    pilot: s.pilot.trim(),
    mode: s.mode,
  } as RunHeader;
}

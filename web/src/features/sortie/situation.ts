import type { RunHeader, Schemas } from "../../api/client";
import { recall } from "../../ui/stored";
import { numberOf, planned } from "./situation-check";

/** A fault chosen in the set-up; the onset stays text until it is sent. */
export interface ChosenFault {
  code: string;
  place: string;
  at: string;
}

/** What the set-up form holds; numbers stay text until they are sent, so that half-typed ones survive. */
export interface Situation {
  pilot: string;
  aircraft: string;
  place: string;
  spot: string;
  beginning: "first" | "turnaround" | "air";
  oatC: string;
  qnhHpa: string;
  windFromDeg: string;
  windKt: string;
  /** At night only what has a light of its own can be read. */
  light: "day" | "night";
  fuelLb: string;
  storesLb: string;
  legNm: string;
  legMinutes: string;
  markNm: string;
  /** What the last shutdown did: kept nothing, or stored the heading. */
  parked: "plain" | "stored";
  /** How warm the jet is: as the air, as a hangar, or from a flight. */
  soak: "soaked" | "hangared" | "flown";
  school: Record<string, string>;
  faults: ChosenFault[];
  surprises: string;
  mode: "guided" | "prompted" | "alone";
  heightFt: string;
  easKt: string;
  /** So far from the place, and the highest ground on the way; empty: over it, and none. */
  fromNm: string;
  groundFt: string;
  dead: string;
  other: "lost" | "idle";
  /** The drill that is flown in place of what stands above; empty where none is. */
  drill: string;
  seed: string;
  /** What a sortie that was taken over says beyond the fields of the form: it is flown as it came. */
  carried: Pick<RunHeader, "conditions" | "flight" | "faults"> | null;
}

export function firstSituation(fleet: Schemas["FleetView"]): Situation {
  const place = fleet.places.find((p) => p.id === "skerrow-main") ?? fleet.places[0]!;
  const aircraft = fleet.aircraft.find((a) => a.id === recall("aircraft", "juniper")) ?? fleet.aircraft[0]!;
  return {
    pilot: recall("pilot", "Tinder"),
    ...weatherOf(place),
    ...jetOf(aircraft),
    beginning: "first",
    surprises: "0",
    mode: "guided",
    soak: "soaked",
    light: "day",
    heightFt: "25000",
    easKt: "230",
    other: "lost",
    seed: String(1 + Math.floor(Math.random() * 99999)),
  };
}

/** The leg that the type is mostly flown on; empty where it has no inertial set. */
function legOf({ leg }: Schemas["AircraftView"]) {
  return { legNm: leg ? String(leg.lengthNm) : "", legMinutes: leg ? String(leg.minutes) : "", markNm: leg ? String(leg.markNm) : "" };
}

/** What belongs to the type and is set anew when another is chosen. */
export function jetOf(aircraft: Schemas["AircraftView"]) {
  return {
    aircraft: aircraft.id,
    fuelLb: String(aircraft.internalFuelLb),
    storesLb: aircraft.emptyLb > 15000 ? "1500" : "0",
    ...legOf(aircraft),
    parked: "plain" as const,
    school: {},
    faults: [],
    carried: null,
    dead: aircraft.engines[0]!,
    drill: "",
  };
}

/** The drill that is chosen. */
export const drillOf = (s: Situation, aircraft: Schemas["AircraftView"]) => (s.beginning === "air" ? aircraft.drills.find((d) => d.id === s.drill) : undefined);

/** The places that a type may begin from. */
export const placesOf = (fleet: Schemas["FleetView"], aircraft: Schemas["AircraftView"]) => fleet.places.filter((p) => !p.ship || aircraft.fliesFromShips);

export function weatherOf(place: Schemas["PlaceDefinition"]) {
  const { oatC, qnhHpa, windFromDeg, windKt } = place.usual;
  return {
    place: place.id,
    spot: place.spots[0]!.id,
    oatC: String(oatC),
    qnhHpa: String(qnhHpa),
    windFromDeg: String(windFromDeg),
    windKt: String(windKt),
    fromNm: "",
    groundFt: "",
    carried: null,
    ...(place.ship ? { parked: "plain" as const } : {}),
  };
}

/** The answers of a school that can be chosen here. */
export const offered = (question: Schemas["SchoolQuestion"], s: Situation) => question.answers.filter((a) => !a.needs || s.parked === "stored");

/** A heading may have been stored: on the ground, by a type that can. */
export const storable = (s: Situation, aircraft: Schemas["AircraftView"]) => aircraft.storesHeading && s.beginning !== "air";

function parkedOf(s: Situation, aircraft: Schemas["AircraftView"]) {
  const stored = storable(s, aircraft) && s.parked === "stored";
  const warm = s.beginning !== "air" && s.soak !== "soaked";
  return storable(s, aircraft) || warm ? { headingStored: stored, soak: warm ? s.soak : null } : null;
}

export function headerOf(s: Situation, aircraft: Schemas["AircraftView"], place: Schemas["PlaceDefinition"]): RunHeader {
  const own = ownHeader(s, aircraft, place);
  const drill = drillOf(s, aircraft);
  const over = (ft: number) => Math.round(ft + place.elevationFt);
  return drill
    ? ({
        ...own,
        conditions: { ...own.conditions, oatC: drill.oatC, night: drill.night ?? own.conditions.night },
        school: { ...own.school, ...drill.school },
        faults: drill.faults ?? [],
        surprises: 0,
        drill: drill.id,
        flight: { ...drill.flight, heightFt: over(drill.flight.heightFt), groundFt: typeof drill.flight.groundFt === "number" ? over(drill.flight.groundFt) : null },
      } as RunHeader)
    : own;
}

const given = (text: string) => (text.trim() === "" ? null : numberOf(text));

// A pressure altitude that came with the sortie holds while the pressure is the one that it came with.
function conditionsOf(s: Situation, place: Schemas["PlaceDefinition"]): RunHeader["conditions"] {
  const came = s.carried?.conditions;
  const qnhHpa = numberOf(s.qnhHpa);
  const pressureAltitudeFt = came && qnhHpa === (came.qnhHpa ?? place.usual.qnhHpa) ? came.pressureAltitudeFt : null;
  return { oatC: numberOf(s.oatC), qnhHpa, windFromDeg: numberOf(s.windFromDeg), windKt: numberOf(s.windKt), night: s.light === "night" ? true : null, pressureAltitudeFt };
}

function ownHeader(s: Situation, aircraft: Schemas["AircraftView"], place: Schemas["PlaceDefinition"]): RunHeader {
  const questions = aircraft.beginnings.find((x) => x.beginning === s.beginning)?.schools ?? [];
  return {
    aircraft: aircraft.id,
    place: s.place,
    spot: s.spot,
    seed: Math.round(numberOf(s.seed)),
    start: s.beginning,
    conditions: conditionsOf(s, place),
    loading: { fuelLb: numberOf(s.fuelLb), storesLb: numberOf(s.storesLb) },
    leg: planned(s) && s.beginning !== "air" ? { lengthNm: numberOf(s.legNm), minutes: numberOf(s.legMinutes), markNm: numberOf(s.markNm) } : null,
    parked: parkedOf(s, aircraft),
    school: Object.fromEntries(Object.entries(s.school).filter(([q, a]) => questions.some((x) => x.id === q && offered(x, s).some((y) => y.id === a)))),
    faults: s.faults.map((f) => {
      const engine = aircraft.faults.find((x) => x.code === f.code)?.engine;
      return {
        code: f.code,
        level: s.carried?.faults?.find((c) => c.code === f.code)?.level,
        engine: engine ? f.place : null,
        item: !engine && f.place ? f.place : null,
        at: numberOf(f.at),
      };
    }),
    surprises: Number(s.surprises),
    flight:
      s.beginning === "air"
        ? { ...s.carried?.flight, heightFt: numberOf(s.heightFt), easKt: numberOf(s.easKt), fromNm: given(s.fromNm), groundFt: given(s.groundFt), dead: s.dead, other: s.other }
        : null,
    pilot: s.pilot.trim(),
    mode: s.mode,
  } as RunHeader;
}

/** The form that would make a header: what is kept, handed on or flown again, set up anew. */
export function situationOf(header: RunHeader, fleet: Schemas["FleetView"]): Situation | null {
  const aircraft = fleet.aircraft.find((a) => a.id === header.aircraft);
  const place = fleet.places.find((p) => p.id === header.place);
  if (!aircraft || !place) {
    return null;
  }

  const { conditions, loading, leg, parked, flight } = header;
  const text = (x: number | null | undefined, otherwise: string) => (x === null || x === undefined ? otherwise : String(x));
  const usual = weatherOf(place);
  const jet = jetOf(aircraft);
  return {
    ...firstSituation(fleet),
    ...usual,
    ...jet,
    pilot: header.pilot ?? "",
    spot: header.spot,
    seed: String(header.seed),
    beginning: header.start as Situation["beginning"],
    mode: (header.mode ?? "guided") as Situation["mode"],
    oatC: text(conditions.oatC, usual.oatC),
    qnhHpa: text(conditions.qnhHpa, usual.qnhHpa),
    windFromDeg: text(conditions.windFromDeg, usual.windFromDeg),
    windKt: text(conditions.windKt, usual.windKt),
    light: conditions.night === true ? "night" : "day",
    fuelLb: text(loading?.fuelLb, jet.fuelLb),
    storesLb: text(loading?.storesLb, jet.storesLb),
    legNm: text(leg?.lengthNm, jet.legNm),
    legMinutes: text(leg?.minutes, jet.legMinutes),
    markNm: text(leg?.markNm, jet.markNm),
    parked: parked?.headingStored ? "stored" : "plain",
    soak: (parked?.soak ?? "soaked") as Situation["soak"],
    school: { ...header.school },
    // What a drill brings is told to nobody.
    faults: (header.drill ? [] : (header.faults ?? [])).map((f) => ({ code: f.code, place: f.engine ?? f.item ?? "", at: String(f.at ?? 0) })),
    surprises: String(header.surprises ?? 0),
    heightFt: text(flight?.heightFt, "25000"),
    easKt: text(flight?.easKt, "230"),
    fromNm: text(flight?.fromNm, ""),
    groundFt: text(flight?.groundFt, ""),
    dead: flight?.dead ?? jet.dead,
    other: (flight?.other ?? "lost") as Situation["other"],
    drill: header.drill ?? "",
    carried: header.drill ? null : { conditions, flight, faults: header.faults },
  };
}

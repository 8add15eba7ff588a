import type { FieldErrors, Resolver } from "react-hook-form";
import * as z from "zod/mini";
import type { Schemas } from "../../api/client";
import type { Situation } from "./situation";

type Ranges = Schemas["FleetView"]["ranges"];

/** Where each number of the form stands in a run's header: there its range is. */
const paths = {
  oatC: "conditions.oatC",
  qnhHpa: "conditions.qnhHpa",
  windFromDeg: "conditions.windFromDeg",
  windKt: "conditions.windKt",
  fuelLb: "loading.fuelLb",
  storesLb: "loading.storesLb",
  legNm: "leg.lengthNm",
  legMinutes: "leg.minutes",
  markNm: "leg.markNm",
  heightFt: "flight.heightFt",
  easKt: "flight.easKt",
  fromNm: "flight.fromNm",
  groundFt: "flight.groundFt",
} as const satisfies Partial<Record<keyof Situation, string>>;

type Number = keyof typeof paths;

const always: Number[] = ["oatC", "qnhHpa", "windFromDeg", "windKt", "fuelLb", "storesLb"];
const ofLeg: Number[] = ["legNm", "legMinutes", "markNm"];
const ofFlight: Number[] = ["heightFt", "easKt"];
/** What may be left empty: over the place, and no ground higher than it. */
const ofWay: Number[] = ["fromNm", "groundFt"];

/** A leg was planned: one of its numbers is there. */
export const planned = (s: Situation) => ofLeg.some((f) => String(s[f]).trim() !== "");

/**
 * A number as it is typed: a comma is a decimal point, a long dash a minus, spaces between digits are passed over. Not a number where nothing or
 * anything else stands there, and where a comma may be either: "12,500".
 */
export function numberOf(text: string): number {
  const plain = text
    .trim()
    .replace(/[−–]/g, "-")
    .replace(/(\d)[\s\u202f\u00a0](?=\d{3})/g, "$1");
  return /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(plain) && !/^[+-]?[1-9]\d{0,2},\d{3}$/.test(plain) ? Number(plain.replace(",", ".")) : Number.NaN;
}

const shown = (x: number) =>
  String(x)
    .replace("-", "−")
    .replace(/\B(?=(\d{3})+(?!\d))/g, "\u202f");

/** What is wrong with a number, and what would be right; null where it is right. */
export function wrongWith(text: string, low: number, high: number, whole = false): string | null {
  const asked = `${shown(low)} to ${shown(high)}`;
  const value = numberOf(text);
  if (Number.isNaN(value)) {
    return /^\s*\d{1,3},\d{3}\s*$/.test(text) ? `${text.trim().replace(",", ".")} or ${text.trim().replace(",", "\u202f")}? Write one of them.` : `A number from ${asked}.`;
  }

  return value < low || value > high ? `From ${asked}.` : whole && !Number.isInteger(value) ? "A whole number." : null;
}

const inRange = (low: number, high: number, whole = false) =>
  z.string().check((ctx) => {
    const wrong = wrongWith(ctx.value, low, high, whole);
    if (wrong) {
      ctx.issues.push({ code: "custom", message: wrong, input: ctx.value });
    }
  });

/** The largest seed: one that every program reads as the same whole number. */
const MAX_SEED = 9_999_999;

/** The check of the whole form, by what is asked in it now. The ranges are the core's. */
function schemaOf(ranges: Ranges, s: Situation) {
  const asked = [...always, ...(s.beginning === "air" ? (s.drill ? [] : [...ofFlight, ...ofWay.filter((f) => String(s[f]).trim() !== "")]) : planned(s) ? ofLeg : [])];
  const range = (path: string) => ranges[path] ?? { low: -1e9, high: 1e9 };
  const onset = range("faults.at");
  return z.object({
    ...Object.fromEntries(asked.map((f) => [f, inRange(range(paths[f]).low, range(paths[f]).high)])),
    seed: inRange(0, MAX_SEED, true),
    faults: z.array(z.object({ at: inRange(onset.low, onset.high) })),
  });
}

/** Whether every number of the form is right. */
export const isSound = (ranges: Ranges, s: Situation) => schemaOf(ranges, s).safeParse(s).success;

/** Puts what the check says at the fields of the form. */
export const resolverOf =
  (ranges: Ranges): Resolver<Situation> =>
  (values) => {
    const found = schemaOf(ranges, values).safeParse(values);
    if (found.success) {
      return { values, errors: {} };
    }

    const errors: Record<string, unknown> = {};
    for (const { path, message } of found.error.issues) {
      const [field, index, part] = path;
      if (index === undefined) {
        errors[String(field)] ??= { type: "range", message };
      } else {
        const list = (errors[String(field)] ??= []) as Record<number, unknown>;
        list[Number(index)] = { [String(part)]: { type: "range", message } };
      }
    }

    return { values: {}, errors: errors as FieldErrors<Situation> };
  };

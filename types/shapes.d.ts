// Shapes that several scripts pass on.
import type { Plan } from "./generated/plan";
import type { SearchEvent } from "./generated/search-event";

/** A place and one of its legs; number -1 stands for the rods. */
export interface ReadAt {
  number: number;
  leg: string;
}

/** Gaussians over unit, rods and growth by hypothesis: means (3H), upper triangles of the covariances (6H). */
export interface Doubts {
  logWeight: Float64Array;
  mean: Float64Array;
  cov: Float64Array;
}

/** The fence with changes of low rank on it: its volts, what each fault's port sees, the ohms of its rods. */
export interface FenceState {
  volts: Float64Array;
  sees: Float64Array;
  drive: Float64Array;
  rodsOhm: number;
  changes: any[];
}

/** A reading that was taken in, and whether it was the second of its place. */
export interface TakenReading {
  reading: { place: ReadAt; kv: number | null; amps: number | null; opened: string[] };
  again: boolean;
}

/** A round of practice as the server drew it. */
export interface PracticeRound {
  season: string;
  seed: number;
  unit_kv: number | null;
  truth: { unit: number; rods: number; grass: number };
  faults: any[];
  states: { restored: boolean; rods_kv: number; kv: number[]; amps: number[][] }[];
  [more: string]: any;
}

export type PracticeFarm = any;

/** A plan's document, by its JSON Schema. */
export type PlanDocument = Plan;

/** What services/answers/forecasts.py gives: traces by season, routes, the rail's marks. */
export type Forecast = Record<string, any>;

/** A step of a search as the store and a phone keep it: the events of services/trace/events.py, with a phone's own. */
export type Step = (SearchEvent | { what: "begin" | "end" | "undo" | "used" | "photo" | "later" | "practised" }) & {
  once?: string;
  [more: string]: any;
};

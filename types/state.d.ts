// The fields that the scripts' classes take over whole (Object.assign): what is packed for a phone, what a page says.
// Lengths: F faults, P places, B pieces, S spans, K frequencies (rows of 2K numbers), H hypotheses.
import type { Map as LeafletMap } from "leaflet";
import type { Bench } from "../adze/web/static/js/bench/bench.js";
import type { Fence } from "../adze/web/static/js/trace/solver/fence.js";
import type { Peaks } from "../adze/web/static/js/trace/solver/peaks.js";
import type { Hypotheses } from "../adze/web/static/js/trace/solver/predicted.js";
import type { HypothesisSet } from "../adze/web/static/js/trace/belief/hypotheses.js";
import type { Learner } from "../adze/web/static/js/trace/belief/belief.js";
import type { Inspections } from "../adze/web/static/js/trace/belief/inspections.js";
import type { FaultSearch } from "../adze/web/static/js/trace/steps/search.js";
import type { Doubts, FenceState, Forecast, PlanDocument } from "./shapes";
import type { PracticeFarm, PracticeRound, ReadAt, Step, TakenReading } from "./shapes";

declare module "../adze/web/static/js/trace/steps/search.js" {
  interface FaultSearch {
    fence: Fence;
    singles: any;
    candidates: HypothesisSet;
    learner: Learner;
    looked: Set<number>;
    readings: TakenReading[];
    skipped: ReadAt[];
    opened: string[];
    here: number;
    finds: number;
    actions: number;
    sweeps: number;
    minutes: number;
    since: number;
    surprise: number;
    doubtful: string;
    isThorough: boolean;
    readsMend: boolean;
    inEarnest: boolean;
    isMown: boolean;
    closing: any;
    stays: string[];
  }
}

declare module "../adze/web/static/js/trace/solver/fence.js" {
  interface Fence {
    peaks: Peaks;
    moved: { rods: number; grass: number };
    known: Map<string, any>;
    faultPorts: any[];
    kind: Int8Array;
    place: Int32Array;
    piece: Int32Array;
    ports: Int32Array;
    a: Int32Array;
    b: Int32Array;
    span: Int32Array;
    from_m: Float64Array;
    length_m: Float64Array;
    live: Int32Array;
    earth: Int32Array;
    spans: string[];
    legs: string[][];
    start: number;
    from_place: number;
    pace_m_per_min: number;
    minutes: { reading: number; look: number; switch: number; rods: number };
    switches: { id: string; fed: number; parted: number[]; beside: number[]; near: number[] }[];
    rods_ohm: number;
    doubt_rods: number;
    doubt_grass: number;
    walk_m: Float64Array;
    follow: Float64Array;
    volts: Float64Array;
    factors: any;
    shapes: any[];
    [packed: string]: any;
  }
}

declare module "../adze/web/static/js/trace/solver/predicted.js" {
  interface Hypotheses {
    fence: Fence;
    state: FenceState;
    standing: any[];
    drive: Float32Array;
    worseDrive: Float32Array;
    kept: Map<string, any>;
    seen: Map<string, any>;
    quickPredictions: Map<string, any>;
    others: Map<string, Hypotheses>;
  }
}

declare module "../adze/web/static/js/trace/solver/peaks.js" {
  interface Peaks {
    size: number;
    count: number;
    product: (...rows: number[]) => void;
  }
}

declare module "../adze/web/static/js/trace/belief/hypotheses.js" {
  interface HypothesisSet {
    fence: Fence;
    blocks: { hypotheses: Hypotheses; doubts: Doubts; loss: Float64Array; first: number }[];
    inspections: Inspections;
    material: number;
  }
}

declare module "../adze/web/static/js/trace/belief/inspections.js" {
  interface Inspections {
    place: Float64Array;
    half: Float64Array;
  }
}

declare module "../adze/web/static/js/trace/belief/belief.js" {
  interface Learner {
    meter: { kv_share: number; kv_least: number; amps_share: number; amps_least: number };
    grassy: number;
    found: number;
  }
}

declare module "../adze/web/static/js/trace/phone/hidden.js" {
  interface HiddenFarm {
    fence: Fence;
    round: PracticeRound;
    open: Map<string, any>;
    own?: Fence;
  }
}

declare module "../adze/web/static/js/trace/phone/on_device.js" {
  interface OnDevice {
    kit: any;
    peaks: Peaks;
    steps: FaultSearch[] & { beginning?: string; keys?: string[] };
    farm?: PracticeFarm;
  }
}

declare module "../adze/web/static/js/trace/phone/practice_page.js" {
  interface FieldPractice {
    plan: number;
    ask: (what: object) => void;
    note: string;
    key: string;
    round: PracticeRound | null;
    steps: Step[];
    turn?: number;
    isScored?: boolean;
  }
}

declare module "../adze/web/static/js/bench/plan_state.js" {
  interface PlanState {
    doc: PlanDocument;
    forecast: Forecast | null;
    season: string;
    fenceId: string;
    edition: number;
    revision: number;
    panel: string;
    canUndo: boolean;
    canRedo: boolean;
  }
}

declare module "../adze/web/static/js/draw/tools.js" {
  interface Tools {
    bench: Bench;
    ground: any;
    map: LeafletMap;
    lines: number;
    drawn: [number, number][];
    pointer: [number, number] | null;
    lane: any;
  }
}

declare module "../adze/web/static/js/trace/trace_field.js" {
  interface FieldSearch {
    root: HTMLElement;
    plan: number;
    csrf: string;
    asked: number;
    busy: boolean;
    season?: string;
    modules?: string[];
    [more: string]: any;
  }
}

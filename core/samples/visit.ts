import type { Folding } from "../bench/event";
import { err, ok, type Result } from "../quantity/result";
import { type BottleType, bringsItsDose } from "./bottleTypes";
import type { Clarity } from "./clarity";
import { photoLimits } from "./photo";
import { casingVolume, type Flow, minutesLeft, pumpedVolume } from "./purge";
import type { WellRound } from "./stability";
import type { Look, Position, VisitEvent, VisitPlan, VisitStarted } from "./visitEvents";
import type { WellDip } from "./well";

/** A bottle of a visit: what was done with it, and which sample it holds. */
export interface VisitBottle {
  rinses: number;
  sample: { id: string; code: string } | null;
  filled_at: string | null;
  depth_cm: number | null;
  /** How often it was emptied for a bubble. */
  bubbles: number;
  filtered: "filtered" | "too-turbid" | null;
  fixed_at: string | null;
  stored_at: string | null;
}

export interface VisitState {
  status: "open" | "finished" | "abandoned";
  site: VisitStarted["site"];
  plan: VisitPlan;
  started_at: string;
  finished_at: string | null;
  arrived_at: string | null;
  people: string;
  position: Position | null;
  /** When somebody who is alone will be heard of again; null when nobody waits for a word. */
  back_by: string | null;
  photos: { at: string; image: string; note: string }[];
  air: { hung_at: string | null; read_at: string | null; value_c: number | null; fetched: boolean };
  look: Look | null;
  clarity: { at: string; value: Clarity } | null;
  dip: WellDip | null;
  flows: Flow[];
  rounds: { at: string; values: WellRound }[];
  bottles: VisitBottle[];
  notes: { at: string; by: string; text: string }[];
}

/**
 * Whether what keeps the water of a bottle is still to go in. Water that could not be filtered goes without it: acid would dissolve
 * what the filter should have held back. Source: 40 CFR 136.3, table II, footnote on dissolved metals (from memory).
 * Check value: an oxygen pair that was filled owes its reagents.
 */
export const isOwedDose = (type: BottleType, bottle: VisitBottle): boolean =>
  type.preservative !== null &&
  !bringsItsDose(type) &&
  bottle.fixed_at === null &&
  bottle.filtered !== "too-turbid";

/**
 * What was added to the water of a bottle; null for nothing. Of water that came without a visit, what its type says.
 * Check value: nothing, of a bottle that was to be dosed and never was.
 */
export const addedTo = (
  type: BottleType,
  bottle: Pick<VisitBottle, "fixed_at"> | null | undefined,
): string | null => (bottle && bottle.fixed_at === null && !bringsItsDose(type) ? null : type.preservative);

const emptyBottle: VisitBottle = {
  rinses: 0,
  sample: null,
  filled_at: null,
  depth_cm: null,
  bubbles: 0,
  filtered: null,
  fixed_at: null,
  stored_at: null,
};

/** How far a purge is. */
export interface Purge {
  /** Litres wanted, and litres pumped so far. */
  wanted_l: number;
  pumped_l: number;
  /** Minutes until it is done at the flow of now; null while nothing runs. */
  left_min: number | null;
  done: boolean;
}

/**
 * How far the purge of a visit is at a moment (ms); null where there is no well, or before it was dipped. Check value: 10 m of
 * water in 150 mm want 530 L for three volumes.
 */
export function purgeAt(
  { plan, dip, flows }: Pick<VisitState, "plan" | "dip" | "flows">,
  at: number,
): Purge | null {
  if (!plan.well || !dip) return null;
  const wanted_l = plan.well.volumes * casingVolume(dip.diameter_mm, dip.depth_m - dip.level_m);
  const pumped_l = pumpedVolume(flows, at);
  return { wanted_l, pumped_l, left_min: minutesLeft(flows, wanted_l, at), done: pumped_l >= wanted_l };
}

type Happened = Exclude<VisitEvent, { type: "undone" | "started" }>;

/** How a visit's events turn into its state. */
export const visitFolding: Folding<VisitState, VisitEvent> = {
  inOrderOfTime: true,
  undoable: ({ type }) => !["started", "finished", "abandoned", "noted"].includes(type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This visit has begun already.");
      return ok({
        status: "open",
        site: event.site,
        plan: event.plan,
        started_at: event.at,
        finished_at: null,
        arrived_at: null,
        people: "",
        position: null,
        back_by: null,
        photos: [],
        air: { hung_at: null, read_at: null, value_c: null, fetched: false },
        look: null,
        clarity: null,
        dip: null,
        flows: [],
        rounds: [],
        bottles: event.plan.bottles.map(() => emptyBottle),
        notes: [],
      });
    }
    if (!state) return err("not-started", "This visit has not begun.");
    if (event.type === "noted") {
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    }
    if (state.status !== "open") return err("closed", "This visit is over. Plan a new one.");
    if (event.type === "abandoned") return ok({ ...state, status: "abandoned", finished_at: event.at });
    if (event.type === "arrived") {
      return state.arrived_at
        ? err("arrived", "You have arrived already.")
        : ok({
            ...state,
            arrived_at: event.at,
            people: event.people,
            position: event.position,
            back_by: event.back_by,
          });
    }
    return state.arrived_at ? happened(state, event) : err("not-arrived", "Say first that you have arrived.");
  },
};

function happened(state: VisitState, event: Exclude<Happened, { type: "noted" | "abandoned" | "arrived" }>) {
  const { air } = state;
  switch (event.type) {
    case "checked-in":
      return ok({ ...state, back_by: event.back_by });
    case "photo":
      return state.photos.length >= photoLimits.ofVisit
        ? err("photos", `${photoLimits.ofVisit} photos are what one visit keeps.`)
        : ok({
            ...state,
            photos: [...state.photos, { at: event.at, image: event.image, note: event.note }],
          });
    case "hung":
      return air.hung_at
        ? err("hung", "The air thermometer hangs already.")
        : ok({ ...state, air: { ...air, hung_at: event.at, fetched: false } });
    case "air-read":
      return air.hung_at
        ? ok({ ...state, air: { ...air, read_at: event.at, value_c: event.value_c } })
        : err("not-hung", "Hang the air thermometer first: in the shade, about a metre above the ground.");
    case "fetched":
      return air.hung_at
        ? ok({ ...state, air: { ...air, fetched: true } })
        : err("not-hung", "No air thermometer hangs.");
    case "looked":
      return ok({ ...state, look: event.look });
    case "clarity":
      return ok({ ...state, clarity: { at: event.at, value: event.clarity } });
    case "dipped":
      if (!state.plan.well) return err("no-well", "This visit has no well.");
      if (state.flows.length > 0)
        return err("pumping", "The pump has run: the level is no longer the one at rest.");
      return ok({ ...state, dip: event.dip });
    case "flow":
      if (!state.dip) return err("not-dipped", "Dip the well before it is pumped.");
      return ok({ ...state, flows: addFlow(state.flows, event.at, event.litres / event.seconds) });
    case "pump-stopped":
      return (state.flows.at(-1)?.l_per_s ?? 0) > 0
        ? ok({ ...state, flows: addFlow(state.flows, event.at, 0) })
        : err("not-running", "The pump does not run.");
    case "round":
      if (!state.plan.well) return err("no-well", "This visit has no well.");
      return ok({ ...state, rounds: [...state.rounds, { at: event.at, values: event.values }] });
    case "finished":
      return air.hung_at && !air.fetched
        ? err("thermometer", "The air thermometer still hangs. Fetch it before you leave.")
        : ok({ ...state, status: "finished" as const, finished_at: event.at, back_by: null });
    default:
      return withBottle(state, event);
  }
}

const addFlow = (flows: readonly Flow[], at: string, l_per_s: number): Flow[] => [
  ...flows,
  { at: Date.parse(at), l_per_s },
];

type BottleEvent = Extract<Happened, { bottle: number }>;

function withBottle(state: VisitState, event: BottleEvent): Result<VisitState> {
  const bottle = state.bottles[event.bottle];
  const type = state.plan.bottles[event.bottle];
  if (!bottle || !type) return err("no-such-bottle", "This visit has no such bottle.");
  const next = bottleAfter(bottle, event, type.pair);
  return next.ok
    ? ok({ ...state, bottles: state.bottles.map((b, i) => (i === event.bottle ? next.value : b)) })
    : next;
}

function bottleAfter(bottle: VisitBottle, event: BottleEvent, pair: boolean): Result<VisitBottle> {
  const full = bottle.filled_at !== null;
  switch (event.type) {
    case "rinsed":
      return full
        ? err("full", "It is filled already.")
        : ok({ ...bottle, rinses: Math.min(20, bottle.rinses + 1) });
    case "filled":
      return full
        ? err("full", "It is filled already.")
        : ok({ ...bottle, sample: event.sample, filled_at: event.at, depth_cm: event.depth_cm });
    case "bubble":
      if (!full) return err("empty", "There is nothing in it.");
      if (bottle.fixed_at) return err("fixed", "The reagents are in: it cannot be filled anew.");
      // One bubble empties both bottles of a pair; the sample keeps its name.
      return ok({
        ...bottle,
        filled_at: null,
        filtered: null,
        stored_at: null,
        bubbles: bottle.bubbles + 1,
        rinses: pair ? bottle.rinses : 0,
      });
    case "filtered":
      return full ? ok({ ...bottle, filtered: event.outcome }) : err("empty", "There is nothing in it.");
    case "fixed":
      return full ? ok({ ...bottle, fixed_at: event.at }) : err("empty", "There is nothing in it.");
    case "stored":
      return full ? ok({ ...bottle, stored_at: event.at }) : err("empty", "There is nothing in it.");
  }
}

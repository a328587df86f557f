import { counted, formatNumber } from "../quantity/format";
import { type Measurand, measurandFacts } from "../quantity/measurand";
import { type BottleType, fillWords } from "./bottleTypes";
import { wellStability } from "./stability";
import { isOwedDose, purgeAt, type VisitBottle, type VisitState } from "./visit";

/** Work of the bench that was begun from a visit. */
export interface VisitWork {
  id: string;
  kind: "reading" | "analysis";
  method_id: string | null;
  measurands: Measurand[];
  status: "open" | "finished" | "abandoned";
}

type TodoKind =
  | "arrive"
  | "air"
  | "look"
  | "dip"
  | "pump"
  | "well"
  | "reading"
  | "bottle"
  | "test"
  | "clarity"
  | "leave";

/** One item of a visit's list: what it is, whether it is done, and what is to be done about it now. */
export interface Todo {
  key: string;
  kind: TodoKind;
  title: string;
  state: "todo" | "begun" | "done";
  detail: string;
  /** Of a bottle: its place in the plan. */
  bottle?: number;
  /** Of a reading or a test: the work that was begun for it. */
  work?: string;
  /** Of a reading: what is read. */
  measurand?: Measurand;
  /** Of a test: its method. */
  method?: string;
}

/** What is next with a bottle, in one step; `null` when it is on ice. */
export type BottleStep = "rinse" | "fill" | "filter" | "fix" | "store" | null;

/**
 * The next step of a bottle by its type. A pair is one item: it is full when both bottles are, and dosed as one
 * moment. Check value: a
 * type of three rinses, rinsed twice, is rinsed.
 */
export function bottleStep(type: BottleType, bottle: VisitBottle): BottleStep {
  if (bottle.filled_at === null) return bottle.rinses < type.rinses ? "rinse" : "fill";
  if (type.filter && bottle.filtered === null) return "filter";
  if (isOwedDose(type, bottle)) return "fix";
  return type.cold && bottle.stored_at === null ? "store" : null;
}

const bottleDone = (type: BottleType, bottle: VisitBottle): boolean =>
  bottle.filled_at !== null &&
  (type.filter === null || bottle.filtered !== null) &&
  !isOwedDose(type, bottle) &&
  (!type.cold || bottle.stored_at !== null);

/** What a bottle has behind it, in words. Check value: a full one of three rinses says "rinsed 3 times · filled". */
function bottleWords(type: BottleType, bottle: VisitBottle): string {
  const words = [
    bottle.rinses > 0 ? `rinsed ${counted(bottle.rinses, "time")}` : "",
    bottle.filled_at ? `filled${bottle.sample ? ` as ${bottle.sample.code}` : ""}` : "",
    bottle.bubbles > 0 ? `${counted(bottle.bubbles, "bubble")} emptied` : "",
    bottle.filtered === "filtered" ? "filtered" : "",
    bottle.filtered === "too-turbid" ? "too turbid to filter" : "",
    bottle.fixed_at ? "dosed" : "",
    bottle.stored_at ? "on ice" : "",
  ].filter(Boolean);
  return words.length ? words.join(" · ") : `fill ${fillWords[type.fill]}`;
}

/** The item to be open when nobody has chosen: the first that is not done, and leaving when all are. */
export const nextTodo = (todos: readonly Todo[]): string =>
  todos.find((t) => t.state !== "done" && t.kind !== "leave")?.key ?? "leave";

/** The list of a visit, in the order of the work. `now` is in ms. Check value: a new visit asks first to arrive. */
export function visitTodo(state: VisitState, works: readonly VisitWork[], now: number): Todo[] {
  const { plan } = state;
  const finished = state.status !== "open";
  const worked = (of: (w: VisitWork) => boolean) =>
    works.find((w) => w.status === "finished" && of(w)) ?? works.find((w) => w.status === "open" && of(w));
  const stateOf = (work: VisitWork | undefined): Todo["state"] =>
    work === undefined ? "todo" : work.status === "finished" ? "done" : "begun";
  const workWords = (work: VisitWork | undefined): string | undefined =>
    work && (work.status === "open" ? "under way" : "");
  const readings = plan.measurands.map((m): Todo => {
    const work = worked((w) => w.kind === "reading" && w.measurands.includes(m));
    return {
      key: `reading-${m}`,
      kind: "reading",
      title: measurandFacts[m].name,
      state: stateOf(work),
      detail: workWords(work) ?? "in place, in the moving water",
      measurand: m,
      ...(work ? { work: work.id } : {}),
    };
  });
  const tests = plan.methods.map((method): Todo => {
    const work = worked((w) => w.method_id === method.id);
    return {
      key: `test-${method.id}`,
      kind: "test",
      title: method.name,
      state: stateOf(work),
      detail: workWords(work) ?? "",
      method: method.id,
      ...(work ? { work: work.id } : {}),
    };
  });
  const bottles = plan.bottles.map((type, i): Todo => {
    const bottle = state.bottles[i] as VisitBottle;
    return {
      key: `bottle-${i}`,
      kind: "bottle",
      title: type.name,
      state: bottleDone(type, bottle) ? "done" : bottle.rinses > 0 || bottle.filled_at ? "begun" : "todo",
      detail: bottleWords(type, bottle),
      bottle: i,
    };
  });
  return [
    {
      key: "arrive",
      kind: "arrive",
      title: "Arrive",
      state: state.arrived_at ? "done" : "todo",
      detail: state.people,
    },
    ...(plan.air ? [airTodo(state, now)] : []),
    ...(plan.look
      ? [one("look", "look", "Look and smell", state.look !== null, state.look ? "" : "before you step in")]
      : []),
    ...wellTodos(state, now),
    ...readings,
    ...bottles,
    ...tests,
    ...(plan.clarity ? [one("clarity", "clarity", "Clarity", state.clarity !== null, "")] : []),
    one("leave", "leave", "Leave", finished, ""),
  ];
}

const one = (key: string, kind: TodoKind, title: string, done: boolean, detail: string): Todo => ({
  key,
  kind,
  title,
  state: done ? "done" : "todo",
  detail,
});

function airTodo({ air, plan }: VisitState, now: number): Todo {
  const title = "Air temperature";
  if (air.value_c !== null) {
    const words = `${formatNumber(air.value_c, 1)} °C`;
    const detail = air.fetched ? words : `${words} · still hangs`;
    return { ...one("air", "air", title, air.fetched, detail), ...(air.fetched ? {} : { state: "begun" }) };
  }
  if (!air.hung_at)
    return one("air", "air", title, false, "in the shade, about a metre above the ground, off body and sun");
  const left_s = Math.min(plan.air_s, Date.parse(air.hung_at) / 1000 + plan.air_s - now / 1000);
  const left = Math.ceil(left_s / 60);
  return {
    ...one("air", "air", title, false, left > 0 ? `hangs; ${left} min more` : "ready to be read"),
    state: "begun",
  };
}

function wellTodos(state: VisitState, now: number): Todo[] {
  const { well } = state.plan;
  if (!well) return [];
  const purge = purgeAt(state, now);
  const enough = purge?.done ?? false;
  const { stable } = wellStability(
    state.rounds.map((r) => r.values),
    well.rounds,
  );
  return [
    one(
      "dip",
      "dip",
      "Dip the well",
      state.dip !== null,
      state.dip
        ? `${formatNumber(state.dip.depth_m - state.dip.level_m, 2)} m of water`
        : "both depths from the same point, before it is pumped",
    ),
    {
      ...one(
        "pump",
        "pump",
        "Purge",
        enough,
        purge
          ? `${formatNumber(purge.pumped_l, 0)} of ${formatNumber(purge.wanted_l, 0)} L${purge.left_min ? `, ${Math.ceil(purge.left_min)} min more` : ""}`
          : "after the dip",
      ),
      ...(!enough && state.flows.length > 0 ? { state: "begun" as const } : {}),
    },
    {
      ...one(
        "well",
        "well",
        "Field quantities",
        stable,
        stable
          ? enough
            ? "steady: sample now"
            : "steady; the purge is not done yet"
          : counted(state.rounds.length, "round"),
      ),
      ...(!stable && state.rounds.length > 0 ? { state: "begun" as const } : {}),
    },
  ];
}

/** What was planned and is not done, by name: said before somebody leaves, and kept. */
export const missing = (todos: readonly Todo[]): string[] =>
  todos.filter((t) => t.state !== "done" && t.kind !== "leave" && t.kind !== "arrive").map((t) => t.title);

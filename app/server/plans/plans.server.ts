import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import {
  type BenchPlan,
  benchPlanSchema,
  checkPlan,
  figuresOf,
  isBegunLate,
  isOver,
  progressOf,
  replanned,
  type ToBegin,
  toBegin,
} from "../../../core/planner/benchPlan";
import { plannable } from "../../../core/planner/fromMethod";
import { counted } from "../../../core/quantity/format";
import type { Result } from "../../../core/quantity/result";
import { runFolding } from "../../../core/runs/run";
import { runEventSchema } from "../../../core/runs/runEvents";
import type { RunState } from "../../../core/runs/runState";
import { rawEvents } from "../bench/eventStore.server";
import type { OpenRun } from "../bench/openWorks.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write, writeLocked } from "../platform/write.server";
import { listMethods } from "../runs/methods.server";
import { sitesInUse } from "../sites/sites.server";

interface PlanRow {
  id: string;
  document: string;
  person_id: string;
  started_at: string;
  ended_at: string | null;
}

/** A plan that has been started, with where each of its runs stands. */
export interface OpenPlan {
  plan: BenchPlan;
  states: Map<string, RunState>;
}

/** The state of each of these runs that has begun; one query however many there are. */
async function statesOf(db: Knex, ids: readonly string[]): Promise<Map<string, RunState>> {
  const all = await rawEvents(db, ids);
  return new Map(
    ids.flatMap((id): [string, RunState][] => {
      const events = (all.get(id) ?? []).map((raw) => runEventSchema.safeParse(raw));
      // A run that cannot be read stands in nobody's way: it is shown as such where it is opened.
      const { state } = replay(
        events.flatMap((e) => (e.success ? [e.data] : [])),
        runFolding,
      );
      return state ? [[id, state]] : [];
    }),
  );
}

const openRow = (db: Knex): Promise<PlanRow | undefined> =>
  db<PlanRow>("bench_plans").whereNull("ended_at").orderBy("started_at", "desc").first();

/** The plan that is followed at the bench; null when none is, or when all of its runs are over. */
export async function openPlan(db: Knex): Promise<OpenPlan | null> {
  const row = await openRow(db);
  if (!row) return null;
  const plan = benchPlanSchema.parse(JSON.parse(row.document));
  const states = await statesOf(
    db,
    plan.tests.map((test) => test.run),
  );
  return isOver(plan, states) ? null : { plan, states };
}

/** Starts a plan; the one that was followed before is put away. The same plan again is the same plan. */
export async function startPlan(
  db: Knex,
  plan: BenchPlan,
  actor: Actor,
  now: string,
): Promise<Result<BenchPlan>> {
  const checked = checkPlan(plan);
  if (!checked.ok) return checked;
  await write(db, actor, "measure", async (trx) => {
    if (await trx("bench_plans").where({ id: plan.id }).first("id")) return;
    await trx("bench_plans").whereNull("ended_at").update({ ended_at: now });
    await trx("bench_plans").insert({
      id: plan.id,
      document: JSON.stringify(plan),
      person_id: actor.id,
      started_at: now,
      ended_at: null,
    });
    await writeJournal(trx, now, [
      { person_id: actor.id, action: "plan started", subject_kind: "plan", subject_id: plan.id, after: plan },
    ]);
  });
  return checked;
}

/** Puts a plan away; the runs that were begun from it go on. */
export async function endPlan(db: Knex, id: string, actor: Actor, now: string): Promise<void> {
  await write(db, actor, "measure", async (trx) => {
    const ended = await trx("bench_plans").where({ id }).whereNull("ended_at").update({ ended_at: now });
    if (!ended) return;
    await writeJournal(trx, now, [
      { person_id: actor.id, action: "plan put away", subject_kind: "plan", subject_id: id },
    ]);
  });
}

/**
 * Makes the open plan anew from this moment on. A plan that was put away or made anew in the meantime stays as it is.
 * Heavy: up to `stop`'s budget.
 */
export async function replan(db: Knex, now_ms: number, stop?: () => boolean): Promise<void> {
  const open = await openPlan(db);
  const anew = open && replanned(open.plan, open.states, now_ms, stop);
  if (!anew) return;
  await writeLocked(db, async (trx) => {
    const row = await openRow(trx);
    if (row?.id !== anew.id) return;
    const { revision } = benchPlanSchema.parse(JSON.parse(row.document));
    if (revision !== open.plan.revision) return;
    await trx("bench_plans")
      .where({ id: anew.id })
      .update({ document: JSON.stringify(anew) });
  });
}

/** Whether the open plan no longer holds because this run was begun late. */
export async function isThrownOut(db: Knex, workId: string): Promise<boolean> {
  const row = await openRow(db);
  // Most events belong to no plan: a look at the text is enough to know.
  if (!row?.document.includes(workId)) return false;
  const open = await openPlan(db);
  return open !== null && open.plan.trouble === null && isBegunLate(open.plan, open.states);
}

/** Where a planned test is begun; where it goes on, once its run is open. */
const beginHref = ({ test: { run, method, site }, open }: ToBegin): string =>
  open ? `/runs/${run}` : `/runs/new/${method}?${new URLSearchParams({ site, work: run })}`;

/** Everything the page of plans shows: the plan that is followed, or what one can be made of. */
export async function loadPlanPage(db: Knex, now: number) {
  const open = await openPlan(db);
  if (open) {
    const { plan, states } = open;
    const progress = progressOf(plan, states);
    const next = toBegin(plan, states).map((n) => ({ ...n, href: beginHref(n) }));
    return { now, followed: { plan, figures: figuresOf(plan), progress, next } };
  }
  const [methods, sites] = await Promise.all([listMethods(db), sitesInUse(db)]);
  const choice = {
    methods: methods.flatMap(({ method }) =>
      // What a meter measures is waited for at the meter.
      method.measure.technique === "meter" ? [] : [plannable(method)],
    ),
    sites: sites.map(({ id, name }) => ({ id, name })),
  };
  return { now, followed: null, choice };
}
type PlanPage = Awaited<ReturnType<typeof loadPlanPage>>;
export type PlanChoice = Extract<PlanPage, { followed: null }>["choice"];
export type Followed = Exclude<PlanPage["followed"], null>;

/** What the open plan wants begun next by each pair of hands, as the rail shows it and the bell rings it. */
export async function nextOfPlan(db: Knex): Promise<OpenRun[]> {
  const open = await openPlan(db);
  if (!open) return [];
  const { plan, states } = open;
  const waiting = toBegin(plan, states);
  const people = Array.from({ length: plan.people }, (_, person) => person);
  const next = people.flatMap((person) => waiting.find((w) => w.person === person) ?? []);
  return [
    {
      id: plan.id,
      title: "The plan",
      href: "/runs/plan",
      words: waiting.length ? `${counted(waiting.length, "test")} to begin` : "everything is begun",
      clocks: [],
    },
    ...next.map((entry) => {
      const { job, person, at } = entry;
      const id = `${plan.id}-${plan.revision}-${job.run}-${job.replicate}`;
      const clock = { id, words: job.name, began: plan.planned_at, opens: at, due: at, closes: at + 30_000 };
      return {
        id,
        title: plan.people > 1 ? `Person ${person + 1} begins` : "Begin next",
        href: beginHref(entry),
        words: job.name,
        clocks: [clock],
      };
    }),
  ];
}

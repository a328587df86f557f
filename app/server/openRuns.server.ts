import type { Knex } from "knex";
import { currentReplicate, currentStep, runEventSchema, runFolding } from "../../core/analysis/run";
import { runningWaits } from "../../core/analysis/timing";
import { replay } from "../../core/bench/event";

/** A clock as every page shows it; times in milliseconds of the epoch. */
export interface RailClock {
  id: string;
  /** What to do when it rings. */
  words: string;
  began: number;
  opens: number;
  due: number;
  closes: number | null;
}

export interface OpenRun {
  id: string;
  title: string;
  href: string;
  /** The step in hand. */
  words: string;
  clocks: RailClock[];
}

/** Every run that is open, with its running clocks: two queries, however many there are. */
export async function openRuns(db: Knex): Promise<OpenRun[]> {
  const works: { id: string; title: string }[] = await db("bench_work")
    .where({ status: "open", kind: "analysis" })
    .orderBy("started_at")
    .select("id", "title");
  if (works.length === 0) return [];
  const rows: { work_id: string; payload: string }[] = await db("bench_events")
    .whereIn(
      "work_id",
      works.map((w) => w.id),
    )
    .orderBy("seq")
    .select("work_id", "payload");
  return works.map(({ id, title }) => {
    const events = rows
      .filter((r) => r.work_id === id)
      .map((r) => runEventSchema.parse(JSON.parse(r.payload)));
    const { state } = replay(events, runFolding);
    const step = state && currentStep(state, currentReplicate(state));
    return {
      id,
      title,
      href: `/runs/${id}`,
      words: step?.text ?? "ready to be judged",
      clocks: state
        ? runningWaits(state).map((wait) => ({
            id: `${id}-${wait.replicate}-${wait.step.id}`,
            words: wait.target.text,
            began: wait.began,
            opens: wait.opens,
            due: wait.due,
            closes: wait.closes,
          }))
        : [],
    };
  });
}

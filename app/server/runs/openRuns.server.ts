import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import { runFolding } from "../../../core/runs/run";
import { runEventSchema } from "../../../core/runs/runEvents";
import { currentReplicate, currentStep } from "../../../core/runs/runState";
import { runningWaits } from "../../../core/runs/timing";
import { rawEvents } from "../bench/eventStore.server";

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

/** Every run that is open, with its running clocks: a handful of queries, however many there are. One that cannot be read is shown as such. */
export async function openRuns(db: Knex): Promise<OpenRun[]> {
  const works: { id: string; title: string }[] = await db("bench_work")
    .where({ status: "open", kind: "analysis" })
    .orderBy("started_at")
    .select("id", "title");
  if (works.length === 0) return [];
  const all = await rawEvents(
    db,
    works.map((w) => w.id),
  );
  return works.map(({ id, title }) => {
    const read = (all.get(id) ?? []).map((raw) => runEventSchema.safeParse(raw));
    const href = `/runs/${id}`;
    if (read.length === 0 || read.some((r) => !r.success)) {
      return { id, title, href, words: "cannot be read: open it to give it up", clocks: [] };
    }
    const { state } = replay(
      read.flatMap((r) => (r.success ? [r.data] : [])),
      runFolding,
    );
    const step = state && currentStep(state, currentReplicate(state));
    return {
      id,
      title,
      href,
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

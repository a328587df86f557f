import type { Knex } from "knex";
import { type Folding, replay } from "../../../core/bench/event";
import { type BenchWork, workHref } from "./benchWork.server";
import { rawEvents } from "./eventStore.server";

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

/** Work that is open, as the line of the day shows it. */
export interface OpenRun {
  id: string;
  title: string;
  href: string;
  /** The step in hand. */
  words: string;
  clocks: RailClock[];
}

type AnyEvent = { id: string; at: string; by: string; type: string };

/** How a kind of bench work is read, folded, and shown while it is open. */
interface ShownOpen<S, E extends AnyEvent> {
  kind: BenchWork["kind"];
  schema: { safeParse(raw: unknown): { success: true; data: E } | { success: false } };
  folding: Folding<S, E>;
  show(state: S, id: string): Pick<OpenRun, "words" | "clocks">;
}

/**
 * Every piece of open work of a kind, with its running clocks: a handful of queries, however many there are. One that cannot be read
 * is shown as such.
 */
export async function openWorks<S, E extends AnyEvent>(
  db: Knex,
  { kind, schema, folding, show }: ShownOpen<S, E>,
): Promise<OpenRun[]> {
  const works: { id: string; title: string }[] = await db("bench_work")
    .where({ status: "open", kind })
    .orderBy("started_at")
    .select("id", "title");
  if (works.length === 0) return [];
  const all = await rawEvents(
    db,
    works.map((w) => w.id),
  );
  return works.map(({ id, title }) => {
    const read = (all.get(id) ?? []).map((raw) => schema.safeParse(raw));
    const events = read.flatMap((r) => (r.success ? [r.data] : []));
    const { state } = replay(events, folding);
    const shown =
      state && events.length === read.length
        ? show(state, id)
        : { words: "cannot be read: open it to give it up", clocks: [] };
    return { id, title, href: workHref({ kind, id }), ...shown };
  });
}

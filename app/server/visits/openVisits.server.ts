import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import { visitFolding } from "../../../core/samples/visit";
import { visitClocks } from "../../../core/samples/visitClocks";
import { visitEventSchema } from "../../../core/samples/visitEvents";
import { rawEvents } from "../bench/eventStore.server";
import type { OpenRun } from "../runs/openRuns.server";

/** Every visit that is open, with its running clocks, as the rail shows what is open. */
export async function openVisits(db: Knex, now: string): Promise<OpenRun[]> {
  const works: { id: string; title: string }[] = await db("bench_work")
    .where({ status: "open", kind: "visit" })
    .orderBy("started_at")
    .select("id", "title");
  if (works.length === 0) return [];
  const all = await rawEvents(
    db,
    works.map((w) => w.id),
  );
  return works.map(({ id, title }) => {
    const events = (all.get(id) ?? []).flatMap((raw) => visitEventSchema.safeParse(raw).data ?? []);
    const { state } = replay(events, visitFolding);
    return {
      id,
      title: `At ${title}`,
      href: `/visits/${id}`,
      words: state?.arrived_at ? "the visit goes on" : "not there yet",
      clocks: (state ? visitClocks(state, Date.parse(now)) : []).map((c) => ({
        id: `${id}-${c.key}`,
        words: c.words,
        began: c.began,
        opens: c.due,
        due: c.due,
        closes: null,
      })),
    };
  });
}

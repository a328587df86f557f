import type { Knex } from "knex";
import { findWork, readingEvents } from "./bench.server";
import { findMeter } from "./meters.server";
import type { Person } from "./people.server";
import { findReading, judgementsOf } from "./readings.server";
import { rulesOfVersion } from "./rules.server";

/** Everything the page of one reading shows, open or finished. */
export async function loadReading(db: Knex, workId: string, person: Person) {
  const work = await findWork(db, workId);
  const meter = work && (await findMeter(db, work.meter_id));
  if (!work || !meter || work.kind !== "reading") throw new Response("No such reading", { status: 404 });
  const { rules } = await rulesOfVersion(db, work.rules_version);
  return {
    work,
    meter,
    rules,
    events: await readingEvents(db, work.id),
    finished: (await findReading(db, work.id)) ?? null,
    judgements: await judgementsOf(db, work.id),
    person,
  };
}

export type LoadedReading = Awaited<ReturnType<typeof loadReading>>;

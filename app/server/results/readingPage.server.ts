import type { Knex } from "knex";
import { measurandFacts } from "../../../core/quantity/measurand";
import { findWork, orUnreadable, readingEvents } from "../bench/bench.server";
import { controlDue } from "../day/due.server";
import type { DueEntry } from "../day/dueEntry";
import { findMeter } from "../meters/meters.server";
import type { Person } from "../people/people.server";
import { nowIso } from "../platform/clock.server";
import { owedToMeter } from "../quality/overview.server";
import { rulesOfVersion } from "../rules/rules.server";
import { findSite } from "../sites/sites.server";
import { derivedOf, judgementsOfWork, meterReadingsOfWork } from "./readings.server";
import { bottlesBehind } from "./restsOn.server";
import { waitedTooLong } from "./waited.server";

/** Everything the page of one reading shows, open or finished. */
export async function loadReading(
  db: Knex,
  workId: string,
  person: Person,
  due: () => Promise<readonly DueEntry[]>,
) {
  const work = await findWork(db, workId);
  const meter = work?.meter_id && (await findMeter(db, work.meter_id));
  if (!work || !meter || work.kind !== "reading") throw new Response("No such reading", { status: 404 });
  const { rules } = await rulesOfVersion(db, work.rules_version);
  const finished = await meterReadingsOfWork(db, work.id);
  const control = finished.length ? controlDue(await due(), meter.id) : null;
  return {
    work,
    meter,
    rules,
    events: await readingEvents(db, work.id).catch(orUnreadable(work.id)),
    finished,
    behind: await bottlesBehind(db, finished),
    derived: await derivedOf(db, finished),
    judgements: await judgementsOfWork(db, work.id),
    usual: (work.site_id && (await findSite(db, work.site_id))?.expected) || {},
    /** A control that is due now, before the next sample. */
    control,
    /** What stands too long already, while nothing is judged yet. */
    waited: finished.length
      ? null
      : await waitedTooLong(
          db,
          work.sample_id,
          meter.channels.map((c) => ({
            parameter: c.measurand,
            keeps_min: measurandFacts[c.measurand].keeps_min,
          })),
          nowIso(),
        ),
    owed: finished.length ? await owedToMeter(db, meter.id, nowIso()) : [],
    person,
  };
}

export type LoadedReading = Awaited<ReturnType<typeof loadReading>>;

import type { Knex } from "knex";
import type { DueEntry } from "./dueEntry";

/** A sample whose tests are due sooner than this stands on the rail; one that is over still does for a while, hours. */
const [samplesAhead_h, samplesOver_h] = [48, 24];

/** Samples that wait for tests, the most urgent first. */
export async function samplesDue(db: Knex, now: string, when: (at: string) => string): Promise<DueEntry[]> {
  const hours = (n: number) => new Date(Date.parse(now) + n * 3_600_000).toISOString();
  const rows: { id: string; code: string; site: string; waits_until: string }[] = await db("samples")
    .join("sites", "sites.id", "samples.site_id")
    .where("waits_until", ">=", hours(-samplesOver_h))
    .where("waits_until", "<=", hours(samplesAhead_h))
    .orderBy("waits_until")
    .limit(20)
    .select("samples.id", "samples.code", "sites.name as site", "waits_until");
  return rows.map(({ id, code, site, waits_until }) => ({
    id: `sample-${id}`,
    kind: "sample",
    meter_id: null,
    measurands: [],
    moment: null,
    subject: code,
    title: code,
    detail: waits_until < now ? `${site}: it no longer keeps for its tests` : `${site}: to be tested by then`,
    at: waits_until,
    href: `/samples/${id}`,
    when: when(waits_until),
  }));
}

import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { type ExpectedRange, expectedRangeSchema } from "../../../core/calibration/planned";
import { type Measurand, measurands } from "../../../core/quantity/measurand";
import { noPlace, type Place, placeSchema } from "../../../core/samples/site";
import type { InUse } from "../platform/inUse.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { takenOutOf } from "../platform/takenOutOf";
import { write } from "../platform/write.server";
import { storedLimitSets } from "../rules/limitSets.server";
import { limitSetIds } from "./limitSetIds";

const expectedSchema = z.partialRecord(z.enum(measurands), expectedRangeSchema);
export type Expected = z.infer<typeof expectedSchema>;

export interface Site {
  id: string;
  name: string;
  water: string;
  position: number;
  expected: Expected;
  /** By whose limits a result from here is read: ids of limit sets. */
  limit_sets: string[];
  altitude_m: number | null;
  place: Place;
}

interface SiteRow extends Omit<Site, "expected" | "limit_sets" | "place"> {
  out_of_use: string | null;
  place: string;
  expected: string;
  limit_sets: string;
}

const fromRow = ({
  id,
  name,
  water,
  position,
  expected,
  limit_sets,
  altitude_m,
  place,
  out_of_use,
}: SiteRow): Site & InUse => ({
  id,
  name,
  water,
  position,
  expected: expectedSchema.parse(JSON.parse(expected)),
  limit_sets: limitSetIds(limit_sets),
  altitude_m,
  place: placeSchema.parse(JSON.parse(place)),
  out_of_use: takenOutOf(out_of_use),
});

const ph = z
  .number({ error: "Give a pH, like 7.2." })
  .min(0, { error: "pH runs from 0 to 14." })
  .max(14, { error: "pH runs from 0 to 14." });
const conductivity = z
  .number({ error: "Give a conductivity in µS/cm, like 450." })
  .min(1, { error: "At least 1 µS/cm." })
  .max(100_000, { error: "At most 100 000 µS/cm." })
  .nullable();

export const siteName = z
  .string()
  .trim()
  .min(1, { error: "Give the site a name." })
  .max(60, { error: "Keep the name under 61 characters." });
export const siteWater = z
  .string()
  .trim()
  .min(1, { error: "Say what water it is, like pond or borehole." })
  .max(60, { error: "Keep it under 61 characters." });
export const altitudeSchema = z
  .number({ error: "Give the altitude in m, like 120." })
  .min(-450, { error: "No water lies that deep." })
  .max(6000, { error: "At most 6000 m." })
  .nullable();

export const newSiteSchema = z
  .object({
    name: siteName,
    water: siteWater,
    ph_low: ph,
    ph_high: ph,
    conductivity_low: conductivity,
    conductivity_high: conductivity,
    altitude_m: altitudeSchema,
  })
  .superRefine((s, issue) => {
    const at = (path: string, message: string) => issue.addIssue({ code: "custom", path: [path], message });
    const above = "The upper end of the range must be above the lower end.";
    if (s.ph_low >= s.ph_high) at("ph_high", above);
    if ((s.conductivity_low === null) !== (s.conductivity_high === null)) {
      at(
        s.conductivity_low === null ? "conductivity_low" : "conductivity_high",
        "Give both ends, or neither.",
      );
    } else if ((s.conductivity_low ?? 0) >= (s.conductivity_high ?? 1)) at("conductivity_high", above);
  });
export type NewSite = z.output<typeof newSiteSchema>;

/** Every site that was ever sampled, in the order of the water. */
export const allSites = async (db: Knex): Promise<(Site & InUse)[]> =>
  (await db<SiteRow>("sites").orderBy("position")).map(fromRow);

/** The sites that are sampled, in the order of the water. */
export const sitesInUse = async (db: Knex): Promise<Site[]> =>
  (await allSites(db)).filter((s) => !s.out_of_use);

export async function findSite(db: Knex, id: string): Promise<(Site & InUse) | undefined> {
  const row = await db<SiteRow>("sites").where({ id }).first();
  return row && fromRow(row);
}

/** What is expected of a new site by its form. */
const expectedOfNew = ({ ph_low, ph_high, conductivity_low, conductivity_high }: NewSite): Expected => ({
  ph: { low: ph_low, high: ph_high },
  ...(conductivity_low !== null && conductivity_high !== null
    ? { conductivity: { low: conductivity_low, high: conductivity_high } }
    : {}),
});

/** Adds a site at the end of the list, by its form; null when the name is taken. */
export const addSite = (db: Knex, input: NewSite, actor: Actor, now: string): Promise<Site | null> =>
  addSiteAs(db, { ...input, expected: expectedOfNew(input) }, actor, now);

/** Adds a site at the end of the list; null when the name is taken. */
export function addSiteAs(
  db: Knex,
  input: Pick<Site, "name" | "water" | "altitude_m" | "expected">,
  actor: Actor,
  now: string,
): Promise<Site | null> {
  return write(db, actor, "sites", async (trx) => {
    const { name, water, altitude_m, expected } = input;
    if (await trx("sites").where({ name }).first("id")) return null;
    const last = await trx<SiteRow>("sites").orderBy("position", "desc").first("position");
    const site: Site = {
      id: ulid(),
      name,
      water,
      altitude_m,
      position: (last?.position ?? 0) + 1,
      expected,
      // Every set that ships, until somebody chooses: too many meanings are better than a limit nobody saw.
      limit_sets: (await storedLimitSets(trx)).flatMap(({ set, own, out_of_use }) =>
        own || out_of_use ? [] : set.id,
      ),
      place: noPlace,
    };
    await trx("sites").insert({
      ...site,
      expected: JSON.stringify(site.expected),
      limit_sets: JSON.stringify(site.limit_sets),
      place: JSON.stringify(site.place),
      created_at: now,
    });
    await writeJournal(trx, now, [
      { person_id: actor.id, action: "site added", subject_kind: "site", subject_id: site.id, after: site },
    ]);
    return site;
  });
}

/**
 * Chooses by whose limits results of a site are read; ids that no set has are left out, and those of sets out of use that did not hold before.
 * False when the site is gone.
 */
export function chooseLimitSets(
  db: Knex,
  siteId: string,
  ids: readonly string[],
  actor: Actor,
  now: string,
): Promise<boolean> {
  return write(db, actor, "sites", async (trx) => {
    const site = await findSite(trx, siteId);
    if (!site) return false;
    const chosen = (await storedLimitSets(trx))
      .filter(({ set, out_of_use }) => !out_of_use || site.limit_sets.includes(set.id))
      .map(({ set }) => set.id)
      .filter((id) => ids.includes(id));
    await trx("sites")
      .where({ id: siteId })
      .update({ limit_sets: JSON.stringify(chosen) });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "limits chosen",
        subject_kind: "site",
        subject_id: siteId,
        before: site.limit_sets,
        after: chosen,
      },
    ]);
    return true;
  });
}

/** The ranges expected over all sites, by measurand. */
export function expectedOverall(sites: readonly Site[]): Expected {
  const all: Expected = {};
  for (const measurand of measurands) {
    const ranges = sites.flatMap((s) => s.expected[measurand] ?? []);
    if (ranges.length) all[measurand] = widest(ranges);
  }
  return all;
}

const widest = (ranges: readonly ExpectedRange[]): ExpectedRange => ({
  low: Math.min(...ranges.map((r) => r.low)),
  high: Math.max(...ranges.map((r) => r.high)),
});

/** What a site usually gives of a measurand; null where nobody said. */
export const usualAt = (site: Site, measurand: Measurand): ExpectedRange | null =>
  site.expected[measurand] ?? null;

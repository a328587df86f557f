import type { Knex } from "knex";
import { ulid } from "ulid";
import { z } from "zod";
import { writeJournal } from "./journal.server";

export interface Site {
  id: string;
  name: string;
  water: string;
  position: number;
  expected_ph_low: number;
  expected_ph_high: number;
}

const ph = z
  .number({ error: "Give a pH, like 7.2." })
  .min(0, { error: "pH runs from 0 to 14." })
  .max(14, { error: "pH runs from 0 to 14." });

export const newSiteSchema = z
  .object({
    name: z.string().trim().min(1, { error: "Give the site a name." }).max(60),
    water: z.string().trim().min(1, { error: "Say what water it is, like pond or borehole." }).max(60),
    expected_ph_low: ph,
    expected_ph_high: ph,
  })
  .refine((s) => s.expected_ph_low < s.expected_ph_high, {
    path: ["expected_ph_high"],
    error: "The upper end of the range must be above the lower end.",
  });

export const listSites = (db: Knex): Promise<Site[]> => db<Site>("sites").orderBy("position").select("*");

export const findSite = (db: Knex, id: string): Promise<Site | undefined> =>
  db<Site>("sites").where({ id }).first();

/** Adds a site at the end of the list; null when the name is taken. */
export function addSite(
  db: Knex,
  input: z.output<typeof newSiteSchema>,
  by: string,
  now: string,
): Promise<Site | null> {
  return db.transaction(async (trx) => {
    if (await trx("sites").where({ name: input.name }).first("id")) return null;
    const last = await trx<Site>("sites").orderBy("position", "desc").first("position");
    const site: Site = { id: ulid(), ...input, position: (last?.position ?? 0) + 1 };
    await trx("sites").insert({ ...site, created_at: now });
    await writeJournal(trx, now, [
      { person_id: by, action: "site added", subject_kind: "site", subject_id: site.id, after: site },
    ]);
    return site;
  });
}

/** The range of pH expected over all sites; null while there is no site. */
export async function expectedRange(db: Knex): Promise<{ low: number; high: number } | null> {
  const row = await db("sites").min({ low: "expected_ph_low" }).max({ high: "expected_ph_high" }).first();
  return row?.low == null ? null : { low: row.low, high: row.high };
}

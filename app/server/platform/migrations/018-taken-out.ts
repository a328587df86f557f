import type { Knex } from "knex";

/** What starts a sensor's life anew, as it was when this was written. */
const renewing = ["sensor-changed", "membrane-changed"];

/**
 * What was done to an instrument has its moment, and may be taken out; a sensor is in use since a moment, so that which one something was
 * measured with is told in whatever order changes come to be known. Standardisations may be taken out too.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable("service_log", (t) => {
    t.string("done_at").notNullable().defaultTo("");
    // Who took it out, when and why; null while it stands.
    t.text("taken_out");
  });
  await db("service_log").update({
    done_at: db.raw(
      `coalesce(ends_at, case when on_date = substr(created_at, 1, 10) then created_at
         else on_date || 'T00:00:00.000Z' end)`,
    ),
  });
  await db.schema.alterTable("sensors", (t) => {
    // Empty for the one that a meter came with.
    t.string("since").notNullable().defaultTo("");
  });
  const begun: { sensor_id: string; done_at: string }[] = await db("service_log")
    .whereIn("kind", renewing)
    .whereNotNull("sensor_id")
    .select("sensor_id", "done_at");
  for (const { sensor_id, done_at } of begun)
    await db("sensors").where({ id: sensor_id }).update({ since: done_at });
  await db.raw(strengthsTakenOut);
}

/** Standardisations that were taken out are found without looking through all that a titrant was used for. */
const strengthsTakenOut = "create index lot_uses_taken_out on lot_uses (lot_id, at) where role = 'taken-out'";

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}

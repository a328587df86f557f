import type { Knex } from "knex";

/**
 * Everything on the shelf is a lot, and one table says what was used of it, when, in which work, and what came of it.
 * Before, only what was poured in a calibration was counted, in portions.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("lot_uses", (t) => {
    t.string("work_id").notNullable().references("bench_work.id");
    t.string("lot_id").notNullable().references("lots.id");
    t.string("role").notNullable();
    // The station of a calibration, the material of a method, the step of a recipe.
    t.string("slot").notNullable();
    // In the lot's own unit; null where nobody can say.
    t.double("amount");
    t.string("at").notNullable();
    // The lot that came of it, where one did.
    t.string("into_lot_id").references("lots.id");
    t.primary(["work_id", "lot_id", "role", "slot"]);
    t.index(["lot_id", "at"]);
    t.index(["into_lot_id"]);
  });
  await db.schema.alterTable("lots", (t) => {
    t.double("used").notNullable().defaultTo(0);
    // The preparation it came of; null for what was bought.
    t.string("made_in").references("bench_work.id");
  });
  const portions = new Map<string, number | null>();
  for (const table of ["lots", "lot_versions"]) {
    const rows: { id?: string; lot_id?: string; version: number; document: string }[] = await db(table);
    for (const row of rows) {
      const { bottle_ml = null, portion_ml = null, ...lot } = JSON.parse(row.document);
      if (row.id) portions.set(row.id, portion_ml);
      const document = JSON.stringify({
        ...lot,
        size: bottle_ml,
        portion: portion_ml,
        unit: "mL",
        place: "",
        hazards: [],
        discarded: null,
      });
      await db(table)
        .where(row.id ? { id: row.id } : { lot_id: row.lot_id, version: row.version })
        .update({ document });
    }
  }
  for (const [id, portion] of portions) {
    await db.raw(
      `insert into lot_uses (work_id, lot_id, role, slot, amount, at, into_lot_id)
       select work_id, lot_id, 'standard', cast(station as varchar(8)), ?, at, null from pours where lot_id = ?`,
      [portion, id],
    );
    const { poured } = await db("lots").where({ id }).first("poured");
    if (portion !== null && poured)
      await db("lots")
        .where({ id })
        .update({ used: poured * portion });
  }
  await db.schema.dropTable("pours");
  await db.raw("alter table lots drop column poured");
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}

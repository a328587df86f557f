import type { Knex } from "knex";

interface Retired {
  id: string;
  at: string;
  by: string;
  reason: string;
}

/**
 * A recipe, a type of bottle, a list of a visit or a set of limits that is used no more: who said so, when and why. They ship or have versions,
 * so that it is no column of their own. Methods that were retired come along: what has no row is in use.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("documents_out_of_use", (t) => {
    t.string("kind").notNullable();
    t.string("id").notNullable();
    t.text("out_of_use").notNullable();
    t.primary(["kind", "id"]);
  });
  const retired: Retired[] = await db("retired_methods as r")
    .join("people as p", "p.id", "r.person_id")
    .orderBy("r.id")
    .select("r.id", "r.at", "p.name as by", "r.reason");
  for (const { id, ...out } of retired)
    await db("documents_out_of_use").insert({ kind: "methods", id, out_of_use: JSON.stringify(out) });
  await db.schema.dropTable("retired_methods");
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}

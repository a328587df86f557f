import type { Knex } from "knex";

/** Pictures that help to find a site. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable("site_photos", (t) => {
    t.string("id").primary();
    t.string("site_id").notNullable().references("sites.id");
    t.string("caption").notNullable();
    // A JPEG as a data URL, made small before it was sent.
    t.text("image").notNullable();
    // Of its content, so that the same picture sent twice is one.
    t.string("hash").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("at").notNullable();
    t.unique(["site_id", "hash"]);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable("site_photos");
}

import type { Knex } from "knex";

/** What was reviewed, signed and amended; when the records were checked. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable("readings", (t) => {
    // Up to which of its judgements somebody signed it; null while nobody did.
    t.integer("signed_judgement");
  });
  await db.raw(
    "create index readings_to_review on readings (measured_at, id) where signed_judgement is null or signed_judgement < judgements",
  );
  await db.schema.createTable("signatures", (t) => {
    t.string("id").primary();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    // The shift: its local day, and from when to when that was.
    t.string("day").notNullable();
    t.string("from_at").notNullable();
    t.string("to_at").notNullable();
    t.text("comment").notNullable();
    t.integer("readings").notNullable();
    // The hash of the hashes of what was signed, in the order of their ids.
    t.string("hash").notNullable();
    t.index(["day"]);
  });
  await db.schema.createTable("signed_readings", (t) => {
    t.string("signature_id").notNullable().references("signatures.id");
    t.string("reading_id").notNullable().references("readings.id");
    t.integer("judgement").notNullable();
    t.string("hash").notNullable();
    t.primary(["reading_id", "signature_id"]);
    t.index(["signature_id", "reading_id"]);
  });
  // A signed reading as it was, kept when it was judged or amended after its signature.
  await db.schema.createTable("superseded_readings", (t) => {
    t.string("reading_id").notNullable().references("readings.id");
    t.integer("judgement").notNullable();
    t.binary("packed").notNullable();
    t.primary(["reading_id", "judgement"]);
  });
  await db.schema.createTable("review_notes", (t) => {
    t.string("id").primary();
    t.string("reading_id").notNullable().references("readings.id");
    // Which of its judgements was looked at.
    t.integer("judgement").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.text("comment").notNullable();
    t.index(["reading_id", "judgement"]);
  });
  await db.schema.createTable("amendments", (t) => {
    t.string("id").primary();
    t.string("reading_id").notNullable().references("readings.id");
    // The judgement that came of it.
    t.integer("judgement").notNullable();
    t.string("at").notNullable();
    t.string("person_id").notNullable().references("people.id");
    t.string("what").notNullable();
    t.string("before").notNullable();
    t.string("after").notNullable();
    t.text("reason").notNullable();
    t.index(["reading_id"]);
  });
  await db.schema.alterTable("journal", (t) => {
    t.index(["person_id", "seq"]);
    t.index(["action", "seq"]);
  });
  await db.schema.createTable("verifications", (t) => {
    t.string("id").primary();
    t.string("at").notNullable();
    // Whoever asked; null for the one on a schedule or at the console.
    t.string("person_id").references("people.id");
    t.integer("entries").notNullable();
    t.integer("signed").notNullable();
    // What did not fit, as a list; empty where everything did.
    t.text("faults").notNullable();
  });
}

export async function down(): Promise<void> {
  throw new Error("A migration is never taken back: restore the backup made before it.");
}

import type { Knex } from "knex";
import { defaultHouseRules, type HouseRules, houseRulesSchema } from "../../core/quality/houseRules";

export interface VersionedRules {
  version: number;
  rules: HouseRules;
}

interface RulesRow {
  version: number;
  document: string;
  at: string;
  reason: string;
}

const fromRow = (row: RulesRow): VersionedRules => ({
  version: row.version,
  rules: houseRulesSchema.parse(JSON.parse(row.document)),
});

/** The house rules in force; the first call on an empty database writes the defaults as version 1. */
export async function rulesInForce(db: Knex): Promise<VersionedRules> {
  const row = await db<RulesRow>("house_rules").orderBy("version", "desc").first();
  return row ? fromRow(row) : writeFirstRules(db, defaultHouseRules);
}

/** Writes version 1 of the rules; `zone` decides when a day ends. */
export async function writeFirstRules(
  db: Knex,
  rules: HouseRules,
  at = new Date().toISOString(),
): Promise<VersionedRules> {
  const first = { version: 1, document: JSON.stringify(rules), at, reason: "defaults" };
  await db("house_rules").insert(first).onConflict("version").ignore();
  return { version: 1, rules };
}

export async function rulesOfVersion(db: Knex, version: number): Promise<VersionedRules> {
  const row = await db<RulesRow>("house_rules").where({ version }).first();
  if (!row) throw new Error(`House rules version ${version} is missing.`);
  return fromRow(row);
}

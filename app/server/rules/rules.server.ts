import type { Knex } from "knex";
import { ruleChanges } from "../../../core/rules/houseRuleFields";
import { completeRules, defaultHouseRules, type HouseRules } from "../../../core/rules/houseRules";
import { nowIso } from "../platform/clock.server";
import { writeJournal } from "../platform/journal.server";
import { remembered } from "../platform/remembered";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

export interface VersionedRules {
  version: number;
  rules: HouseRules;
}

interface RulesRow {
  version: number;
  document: string;
  at: string;
  reason: string;
  person_id: string | null;
}

/** A version never changes: what was read once need not be read again. */
const rulesOf = remembered<HouseRules>(50, (document) => completeRules(JSON.parse(document)));

const fromRow = ({ version, document }: RulesRow): VersionedRules => ({ version, rules: rulesOf(document) });

/** The house rules in force; the first call on an empty database writes the defaults as version 1. */
export async function rulesInForce(db: Knex): Promise<VersionedRules> {
  const row = await db<RulesRow>("house_rules").orderBy("version", "desc").first();
  return row ? fromRow(row) : writeFirstRules(db, defaultHouseRules);
}

/** Writes version 1 of the rules; `zone` decides when a day ends. */
export async function writeFirstRules(db: Knex, rules: HouseRules, at = nowIso()): Promise<VersionedRules> {
  const first = { version: 1, document: JSON.stringify(rules), at, reason: "defaults", person_id: null };
  await db("house_rules").insert(first).onConflict("version").ignore();
  return { version: 1, rules };
}

export async function rulesOfVersion(db: Knex, version: number): Promise<VersionedRules> {
  const row = await db<RulesRow>("house_rules").where({ version }).first();
  if (!row) throw new Error(`House rules version ${version} is missing.`);
  return fromRow(row);
}

/**
 * Writes the next version of the house rules. Null when somebody else wrote one since `basedOn`, so that two people
 * who edit at once do not overwrite each other; the same version again when nothing changed.
 */
export function changeRules(
  db: Knex,
  basedOn: number,
  wanted: HouseRules,
  reason: string,
  actor: Actor,
  now: string,
): Promise<VersionedRules | null> {
  return write(db, actor, "rules", async (trx) => {
    const present = await rulesInForce(trx);
    if (present.version !== basedOn) return null;
    // Whose records these are was decided when the database began.
    const rules = { ...wanted, data: present.rules.data };
    const changes = ruleChanges(present.rules, rules);
    if (changes.length === 0) return present;
    const version = present.version + 1;
    await trx("house_rules").insert({
      version,
      document: JSON.stringify(rules),
      at: now,
      reason,
      person_id: actor.id,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "house rules changed",
        subject_kind: "house-rules",
        subject_id: String(version),
        before: Object.fromEntries(changes.map((c) => [c.path, c.before])),
        after: Object.fromEntries(changes.map((c) => [c.path, c.after])),
        reason,
      },
    ]);
    return { version, rules };
  });
}

export interface RulesVersion {
  version: number;
  at: string;
  reason: string;
  by: string | null;
}

export const rulesHistory = (db: Knex): Promise<RulesVersion[]> =>
  db("house_rules")
    .leftJoin("people", "people.id", "house_rules.person_id")
    .orderBy("version", "desc")
    .limit(30)
    .select("version", "at", "reason", "people.name as by");

/** Sets the zone of an organisation that begins: before anything is measured, nothing has to be judged anew. */
export async function setFirstZone(db: Knex, actor: Actor, zone: string, now: string): Promise<void> {
  const { version, rules } = await rulesInForce(db);
  await changeRules(db, version, { ...rules, zone }, "the zone, as asked at the first start", actor, now);
}

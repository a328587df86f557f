import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { ulid } from "ulid";
import type { LabResult } from "../../../core/samples/custodyEvents";
import {
  guessMapping,
  type LabMapping,
  labMappingSchema,
  neededFields,
  type RefusedLine,
  readLabLines,
} from "../../../core/samples/labResults";
import { postEvents } from "../bench/bench.server";
import { readTable, type TextTable } from "../platform/readTable.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { batchState } from "./batches.server";

/** So many lines, and so many characters, are what one file of a laboratory may have. */
const fileLimits = { lines: 2000, characters: 1_000_000 } as const;

/** Reads what a laboratory sent. Errors: a sentence. */
export function readLabFile(text: string): TextTable | { message: string } {
  if (text.trim() === "") return { message: "Choose a file, or paste its lines." };
  if (text.length > fileLimits.characters)
    return { message: "This file is longer than a million characters. Send it in parts." };
  const table = readTable(text);
  if ("message" in table) return table;
  if (table.head.length < neededFields.length)
    return { message: "Its first line names the columns, and at least one line follows." };
  if (table.rows.length > fileLimits.lines)
    return { message: `More than ${fileLimits.lines} lines. Send it in parts.` };
  return table;
}

/** The mapping that served for the last file of a laboratory, where all its columns are there again; otherwise a guess. */
export async function mappingFor(
  db: Knex,
  laboratory: string,
  head: readonly string[],
): Promise<LabMapping & { remembered: boolean }> {
  const row: { mapping: string } | undefined = await db("lab_mappings")
    .where({ laboratory_key: laboratory.toLowerCase() })
    .first("mapping");
  const known = row && labMappingSchema.safeParse(JSON.parse(row.mapping)).data;
  const serves = known && Object.values(known.columns).every((c) => head.includes(c));
  return serves ? { ...known, remembered: true } : { ...guessMapping(head), remembered: false };
}

/** What taking a file over would do, without doing it. Errors: a sentence where a column is missing from the mapping. */
export async function dryRun(
  db: Knex,
  batchId: string,
  file: TextTable,
  mapping: LabMapping,
  now: string,
): Promise<{ results: LabResult[]; refused: RefusedLine[] } | { message: string }> {
  const unmapped = neededFields.filter((f) => !file.head.includes(mapping.columns[f] ?? ""));
  if (unmapped.length)
    return { message: `Say which column holds the ${unmapped.join(" and the ").replaceAll("_", " ")}.` };
  const { state, zone } = await batchState(db, batchId);
  return readLabLines(file.rows, mapping, { samples: state.samples, zone, now });
}

/** Results in one event. */
const perEvent = 500;

/**
 * Takes the results of a file over into the ledger, and remembers its mapping for the laboratory. The same file again changes nothing.
 * Errors: a sentence where an event was refused.
 */
export async function takeOver(
  db: Knex,
  batchId: string,
  file: { name: string; text: string },
  results: readonly LabResult[],
  mapping: LabMapping,
  actor: Actor,
  now: string,
): Promise<string | null> {
  const sha256 = createHash("sha256").update(file.text).digest("hex");
  return write(db, actor, "measure", async (trx) => {
    const { state } = await batchState(trx, batchId);
    await trx("lab_mappings")
      .insert({
        laboratory_key: state.batch.laboratory.toLowerCase(),
        mapping: JSON.stringify({ columns: mapping.columns, dates: mapping.dates }),
        at: now,
      })
      .onConflict("laboratory_key")
      .merge();
    const known = new Set(
      state.results.filter((r) => r.file.sha256 === sha256).map((r) => `${r.sample_id} ${r.parameter}`),
    );
    const fresh = results.filter((r) => !known.has(`${r.sample_id} ${r.parameter}`));
    const events = [];
    for (let from = 0; from < fresh.length; from += perEvent) {
      const some = fresh.slice(from, from + perEvent);
      events.push({
        id: ulid(Date.parse(now)),
        at: now,
        type: "results",
        file: { name: file.name, sha256 },
        results: some,
      });
    }
    if (events.length === 0) return null;
    const posted = await postEvents(trx, actor, batchId, events, now);
    return posted.refused?.message ?? null;
  });
}

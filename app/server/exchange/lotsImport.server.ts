import type { Knex } from "knex";
import type { RefusedLine } from "../../../core/samples/labResults";
import type { Lot } from "../../../core/stock/lot";
import { type LotEntry, lotFieldOf, readLotLine, unmappedLots } from "../../../core/stock/lotLines";
import { fieldErrors } from "../platform/forms.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { lotFromForm } from "../stock/lotForm.server";
import { addLotIn, findLot, lotsOfCodes } from "../stock/lots.server";
import { type LotsFile, tableOf, takeOver } from "./importFile.server";

/** A file of lots is a shelf, not a record of years. */
const mostLots = 500;
/** As many ids as one question names. */
const partOf = 500;

interface LotLine {
  line: number;
  lot: Lot;
}

export interface LookedLots {
  lots: LotLine[];
  refused: RefusedLine[];
  /** Why nothing can be read; null where it can. */
  message: string | null;
}

function formOf({ fields }: LotEntry): FormData {
  const form = new FormData();
  for (const [field, values] of Object.entries(fields))
    for (const value of values ?? []) form.append(field, value);
  return form;
}

/** What a file of lots holds: which could be registered, and which not and why. Each line is read as if it had been typed into the form. */
export async function lookAtLots(db: Knex, row: LotsFile): Promise<LookedLots> {
  const nothing = { lots: [], refused: [] };
  const table = await tableOf(db, row.id);
  if (!table) return { ...nothing, message: "The file is not kept any longer." };
  const message = unmappedLots(table.head, row.mapping);
  if (message) return { ...nothing, message };
  if (table.rows.length > mostLots)
    return { ...nothing, message: `More than ${mostLots} lots. Bring them in by parts.` };
  const { columns } = row.mapping;
  const lots: LotLine[] = [];
  const refused: RefusedLine[] = [];
  const seen = new Map<string, number>();
  for (const { line, cells } of table.rows) {
    const entry = readLotLine(cells, row.mapping);
    const wrong = entry.wrong.map(({ field, reason }) => ({ line, column: columns[field] ?? "", reason }));
    const parsed = lotFromForm(formOf(entry));
    if (wrong.length > 0) refused.push(...wrong);
    else if (!parsed.success) {
      const errors = fieldErrors(parsed.error);
      for (const [path, reason] of Object.entries(errors)) {
        const field = lotFieldOf(path);
        // Which buffer it is decides what its values are: one sentence will do.
        if (field === "value" && errors.material) continue;
        refused.push({ line, column: (field && columns[field]) ?? "", reason });
      }
    } else {
      const code = parsed.data.code.toLowerCase();
      const before = seen.get(code);
      if (before === undefined) lots.push({ line, lot: parsed.data });
      else refused.push({ line, column: columns.code ?? "", reason: `This lot stands in line ${before}.` });
      seen.set(code, before ?? line);
    }
  }
  const present = new Set<string>();
  for (let from = 0; from < lots.length; from += partOf) {
    const codes = lots.slice(from, from + partOf).map((l) => l.lot.code);
    for (const { lot } of await lotsOfCodes(db, codes)) present.add(lot.code.toLowerCase());
  }
  const fresh = lots.filter((l) => !present.has(l.lot.code.toLowerCase()));
  for (const { line, lot } of lots)
    if (present.has(lot.code.toLowerCase()))
      refused.push({ line, column: columns.code ?? "", reason: `There is a lot ${lot.code} already.` });
  refused.sort((a, b) => a.line - b.line);
  return { lots: fresh, refused, message: null };
}

/** Registers the lots of a file. */
export const takeLots = (
  db: Knex,
  id: string,
  partly: boolean,
  actor: Actor,
  now: string,
): Promise<string | null> =>
  takeOver<LotsFile, LotLine>(
    db,
    id,
    {
      kind: "lots",
      right: "stock",
      counted: "lines",
      look: async (trx, row) => {
        const { lots: found, ...looked } = await lookAtLots(trx, row);
        return { found, ...looked };
      },
      keep: async (trx, row, { lot, line }) =>
        (await addLotIn(trx, lot, actor.id, now, null, `line ${line} of ${row.name}`)).id,
    },
    partly,
    actor,
    now,
  );

/** Takes the lots of a file off the shelf again as if they had never stood there, as long as nobody has touched one. Returns a sentence where nothing was done. */
export const undoLots = (
  db: Knex,
  id: string,
  reason: string,
  actor: Actor,
  now: string,
): Promise<string | null> =>
  write(db, actor, "stock", async (trx) => {
    const row: { status: string; brought: string | null } | undefined = await trx("imports")
      .where({ id, kind: "lots" })
      .first("status", "brought");
    if (row?.status !== "taken")
      return row ? "There is nothing of this file on the shelf." : "This file is not there any more.";
    const ids = JSON.parse(row.brought ?? "[]") as string[];
    const touched = await touchedOf(trx, ids);
    if (touched)
      return `Lot ${touched} was used or changed since. Correct or withdraw each lot on its own page.`;
    for (const table of ["lot_versions", "lots"]) {
      const key = table === "lots" ? "id" : "lot_id";
      for (let from = 0; from < ids.length; from += partOf)
        await trx(table)
          .whereIn(key, ids.slice(from, from + partOf))
          .delete();
    }
    await trx("imports").where({ id }).update({ status: "undone", settled_at: now, brought: null });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "import undone",
        subject_kind: "import",
        subject_id: id,
        after: { lots: ids },
        reason,
      },
    ]);
    return null;
  });

/** The code of the first of some lots that was changed, used, or chosen in work that is not finished; null where none was. */
async function touchedOf(trx: Knex, ids: readonly string[]): Promise<string | null> {
  const touched = new Set<string>();
  for (let from = 0; from < ids.length; from += partOf) {
    const part = ids.slice(from, from + partOf);
    const changed: string[] = await trx("lots").whereIn("id", part).where("version", ">", 1).pluck("id");
    const used: string[] = await trx("lot_uses").whereIn("lot_id", part).pluck("lot_id");
    const filled: string[] = await trx("service_log").whereIn("lot_id", part).pluck("lot_id");
    for (const id of [...changed, ...used, ...filled]) touched.add(id);
  }
  // Work under way names its lots in its events, or in a document that these point to.
  const texts: string[] = [
    ...(await trx("bench_events")
      .join("bench_work", "bench_work.id", "bench_events.work_id")
      .where({ status: "open" })
      .pluck("payload")),
    ...(await trx("documents").pluck("document")),
  ];
  const sought = new Set(ids);
  for (const text of texts)
    for (const [id] of text.matchAll(/[0-9A-HJKMNP-TV-Z]{26}/g)) if (sought.has(id)) touched.add(id);
  const [first] = touched;
  return first === undefined ? null : ((await findLot(trx, first))?.lot.code ?? null);
}

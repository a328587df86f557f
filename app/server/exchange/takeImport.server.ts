import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { objections } from "../../../core/judgement/finding";
import type { ImportedEvidence } from "../../../core/results/importedEvidence";
import { type ImportedLine, importReader, nameInLedger, unmappedOf } from "../../../core/results/importLines";
import { judgeImported } from "../../../core/results/judgeImported";
import type { RefusedLine } from "../../../core/samples/labResults";
import { insertMany } from "../platform/insertMany";
import { writeJournal } from "../platform/journal.server";
import { pack } from "../platform/pack.server";
import { writeLocked } from "../platform/write.server";
import { noteLatest } from "../results/latest.server";
import { reportedColumns } from "../results/reportedValue.server";
import { usualBefore } from "../results/usual.server";
import { rulesInForce } from "../rules/rules.server";
import { followImport } from "./followImport.server";
import { findResults, type ResultsFile, tableOf } from "./importFile.server";

/** What taking a file over would do. */
export interface Looked {
  taken: number;
  /** The first lines that would be taken, to look at. */
  examples: (ImportedLine & { site: string })[];
  refused: number;
  /** The first of the lines that cannot be taken. */
  why: RefusedLine[];
  /** Why nothing can be read yet: which column is missing. */
  message: string | null;
}

export const [examplesShown, refusedShown] = [12, 200];
/** Between looks at lines the event loop may serve somebody else. */
const pause = () => new Promise<void>((done) => setImmediate(done));
const pageSize = 1000;

type Progress = (share: number) => void;

const keyOf = (l: { site_id: string; parameter: string; measured_at: string }) =>
  `${l.site_id} ${l.parameter} ${l.measured_at}`;

/** Reads all lines of a file: what can be taken, and what cannot and why. What is in the ledger already is not taken again. */
async function readLines(
  db: Knex,
  row: ResultsFile,
  now: string,
  onProgress: Progress,
): Promise<
  { lines: ImportedLine[]; refused: RefusedLine[]; sites: Map<string, string> } | { message: string }
> {
  const table = await tableOf(db, row.id);
  if (!table) return { message: "The file is not kept any longer." };
  const message = unmappedOf(table.head, row.mapping);
  if (message) return { message };
  const { zone } = (await rulesInForce(db)).rules;
  const known: { id: string; name: string }[] = await db("sites").select("id", "name");
  const read = importReader(table.head, row.mapping, {
    sites: new Map(known.map((s) => [s.name.toLowerCase(), s.id])),
    zone,
    now,
  });
  const lines: ImportedLine[] = [];
  const refused: RefusedLine[] = [];
  const seen = new Map<string, number>();
  for (const [i, row] of table.rows.entries()) {
    const found = read(row.cells, row.line);
    refused.push(...found.refused);
    for (const taken of found.taken) {
      const before = seen.get(keyOf(taken));
      if (before === undefined) {
        seen.set(keyOf(taken), taken.line);
        lines.push(taken);
      } else {
        const reason = `The same quantity of the same site at the same moment stands in line ${before}.`;
        refused.push({ line: taken.line, column: taken.analyte, reason });
      }
    }
    if (i % pageSize === 0) {
      onProgress(i / table.rows.length);
      await pause();
    }
  }
  const present = await presentKeys(db, lines);
  const fresh = lines.filter((l) => {
    if (!present.has(keyOf(l))) return true;
    refused.push({
      line: l.line,
      column: l.analyte,
      reason: "The ledger has a result of this moment already.",
    });
    return false;
  });
  refused.sort((a, b) => a.line - b.line);
  return { lines: fresh, refused, sites: new Map(known.map((s) => [s.id, s.name])) };
}

/** Which of these moments the ledger has of the same quantity and site, one question for each of those. */
async function presentKeys(db: Knex, lines: readonly ImportedLine[]): Promise<Set<string>> {
  const spans = new Map<string, { site_id: string; parameter: string; from: string; to: string }>();
  for (const { site_id, parameter, measured_at } of lines) {
    const span = spans.get(`${site_id} ${parameter}`);
    if (!span)
      spans.set(`${site_id} ${parameter}`, { site_id, parameter, from: measured_at, to: measured_at });
    else if (measured_at < span.from) span.from = measured_at;
    else if (measured_at > span.to) span.to = measured_at;
  }
  const present = new Set<string>();
  for (const { site_id, parameter, from, to } of spans.values()) {
    const rows: { measured_at: string }[] = await db("readings")
      .where({ site_id, parameter })
      .whereBetween("measured_at", [from, to])
      .whereNot("verdict", "void")
      .select("measured_at");
    for (const { measured_at } of rows) present.add(keyOf({ site_id, parameter, measured_at }));
  }
  return present;
}

const journalHead = async (db: Knex): Promise<number> =>
  (await db("journal_head").where({ id: 1 }).first("seq")).seq;

/** Whether the ledger has some of these moments now that it did not have when they were read: another file was taken over in between. */
async function cameMeanwhile(trx: Knex, since: number, lines: readonly ImportedLine[]): Promise<boolean> {
  const other = await trx("journal")
    .where("seq", ">", since)
    .where({ action: "readings imported" })
    .first("seq");
  if (!other) return false;
  const present = await presentKeys(trx, lines);
  return lines.some((l) => present.has(keyOf(l)));
}

/** What taking a file over would do, without doing it. */
export async function lookAtImport(
  db: Knex,
  id: string,
  now: string,
  onProgress: Progress = () => undefined,
): Promise<Looked> {
  const nothing = { taken: 0, examples: [], refused: 0, why: [] };
  const row = await findResults(db, id);
  if (!row) return { ...nothing, message: "This file is not there any more." };
  const read = await readLines(db, row, now, onProgress);
  if ("message" in read) return { ...nothing, message: read.message };
  return {
    taken: read.lines.length,
    examples: read.lines
      .slice(0, examplesShown)
      .map((l) => ({ ...l, site: read.sites.get(l.site_id) ?? "" })),
    refused: read.refused.length,
    why: read.refused.slice(0, refusedShown),
    message: null,
  };
}

const readingColumns = [
  "id",
  "work_id",
  "source",
  "kind",
  "parameter",
  "analyte",
  "method",
  "site_id",
  "sample",
  "sample_key",
  "value",
  "measured_value",
  "shown",
  "low",
  "high",
  "decimals",
  "unit",
  "verdict",
  "findings",
  "rules_version",
  "limit_sets",
  "measured_at",
  "finished_at",
  "person_id",
  "judgements",
];

type Cells = (string | number | Buffer | null)[];

/**
 * Takes a file over: all its lines that can be, or none where some cannot and nobody said that these may be left out. Everything is read and judged
 * before the lock is taken, and then written in one piece. Killed at any moment, nothing or everything is there. Returns a sentence
 * where nothing was done.
 */
export async function takeImport(
  db: Knex,
  id: string,
  { partly, person_id }: { partly: boolean; person_id: string },
  now: string,
  onProgress: Progress = () => undefined,
): Promise<string | null> {
  const row = await findResults(db, id);
  if (row?.status !== "looked") return row ? null : "This file is not there any more.";
  const before = await journalHead(db);
  const read = await readLines(db, row, now, (share) => onProgress(share * 0.4));
  if ("message" in read) return read.message;
  const { lines, refused } = read;
  if (lines.length === 0) return "There is no line in it that can be taken over.";
  if (refused.length > 0 && !partly)
    return "Some lines cannot be taken over. Mend them, or say that they are left out.";
  const { rules, version } = await rulesInForce(db);
  const usual = new Map<string, ImportedEvidence["usual"]>();
  const sets: { id: string; limit_sets: string }[] = await db("sites").select("id", "limit_sets");
  const limitSets = new Map(sets.map((s) => [s.id, s.limit_sets]));
  const readings: Cells[] = [];
  const evidence: Cells[] = [];
  const judgements: Cells[] = [];
  const newest = new Map<
    string,
    { id: string; site_id: string; parameter: string; analyte: string; measured_at: string }
  >();
  const hash = createHash("sha256");
  const lineIds = new Map<number, number>();
  for (const [i, line] of lines.entries()) {
    const analyte = nameInLedger(line);
    const key = `${line.site_id} ${line.parameter} ${analyte}`;
    if (!usual.has(key))
      usual.set(
        key,
        await usualBefore(db, line.site_id, { parameter: line.parameter, analyte }, line.measured_at),
      );
    const { parameter, species, unit, decimals } = line;
    const document: ImportedEvidence = {
      source: "imported",
      import_id: id,
      instrument: line.instrument,
      observer: line.observer,
      collected_at: null,
      measured_at: line.measured_at,
      finished_at: now,
      result: { parameter, analyte: line.analyte, species, unit, decimals },
      reported: line.found,
      written: line.written,
      file: { name: row.name, sha256: row.sha256, line: line.line },
      usual: usual.get(key) ?? null,
    };
    const { verdict, findings } = judgeImported(document);
    const kept = JSON.stringify(objections(findings));
    // A line of a wide file gives several results: each has a number of its own.
    const nth = (lineIds.get(line.line) ?? 0) + 1;
    lineIds.set(line.line, nth);
    const reading = `${id}-${line.line}${nth > 1 ? `.${nth}` : ""}`;
    const { value, measured_value, shown, low, high } = reportedColumns(document, rules);
    readings.push([
      reading,
      id,
      "imported",
      "sample",
      parameter,
      analyte,
      line.instrument ?? row.name,
      line.site_id,
      line.sample,
      line.sample.toLowerCase(),
      value,
      measured_value,
      shown,
      low,
      high,
      decimals,
      unit,
      verdict,
      kept,
      version,
      limitSets.get(line.site_id) ?? null,
      line.measured_at,
      now,
      person_id,
      1,
    ]);
    evidence.push([reading, null, pack(document)]);
    judgements.push([reading, 1, now, value, verdict, kept, version, "first judgement", null]);
    hash.update(JSON.stringify([reading, value, verdict]));
    const last = newest.get(key);
    if (!last || last.measured_at < line.measured_at)
      newest.set(key, {
        id: reading,
        site_id: line.site_id,
        parameter,
        analyte,
        measured_at: line.measured_at,
      });
    if (i % pageSize === 0) {
      onProgress(0.4 + (0.4 * i) / lines.length);
      await pause();
    }
  }
  return writeLocked(db, async (trx) => {
    const present = await findResults(trx, id);
    // Another press was quicker.
    if (present?.status !== "looked") return null;
    if (await cameMeanwhile(trx, before, lines))
      return "Meanwhile another file brought some of these results. Look at it once more, then take it over.";
    await trx("bench_work").insert({
      id,
      kind: "import",
      title: row.name,
      person_id,
      status: "finished",
      started_at: row.at,
      finished_at: now,
      rules_version: version,
    });
    await insertMany(trx, "readings", readingColumns, readings);
    onProgress(0.9);
    await insertMany(trx, "reading_evidence", ["reading_id", "calibration_key", "packed"], evidence);
    await insertMany(
      trx,
      "reading_judgements",
      ["reading_id", "seq", "at", "value", "verdict", "findings", "rules_version", "cause", "rejudging_id"],
      judgements,
    );
    for (const reading of newest.values()) await noteLatest(trx, reading);
    await followImport(trx, lines, { by: person_id, now });
    await trx("imports")
      .where({ id })
      .update({ status: "taken", taken: readings.length, settled_at: now, content: null });
    await writeJournal(trx, now, [
      {
        person_id,
        action: "readings imported",
        subject_kind: "import",
        subject_id: id,
        after: {
          name: row.name,
          sha256: row.sha256,
          readings: readings.length,
          left_out: refused.length,
          digest: hash.digest("base64url"),
        },
      },
    ]);
    return null;
  });
}

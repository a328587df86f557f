import type { MessagePort } from "node:worker_threads";
import type { Knex } from "knex";
import { type DayBounds, dayBounds } from "../../../core/time/zone";
import { nowIso } from "../platform/clock.server";
import { openDatabase, whereIs } from "../platform/engine.server";
import { streamFromWorker, workersExist } from "../platform/workers.server";
import { withEvidence } from "../results/evidenceDocument.server";
import { isCommon, type LedgerQuery, ledgerQuerySchema, pageOfIds, placeOf } from "../results/ledger.server";
import {
  joined,
  type Reading,
  type StoredReading,
  wholeColumns,
  wholeReadings,
} from "../results/readings.server";
import { listLimitSets } from "../rules/limitSets.server";
import { rulesInForce } from "../rules/rules.server";
import { dataPackage } from "./dataPackage.server";
import { csvHead, csvRows, jsonFoot, jsonHead, jsonRows } from "./exports.server";

/** What an address of an export asks for. */
export interface ExportRequest {
  query: LedgerQuery;
  format: "csv" | "json";
  now: string;
}

/** Readings in one look: few enough to be light, many enough to be quick. */
const pageOfExport = 100;

/** How a filter is looked through, which is asked once for all its pages. */
async function wayThrough(db: Knex, query: LedgerQuery): Promise<{ days: DayBounds; common: boolean }> {
  const days = dayBounds((await rulesInForce(db)).rules.zone);
  return { days, common: await isCommon(db, query, days) };
}

/** One page of the readings that a filter finds, whole, and the place after it; undefined where nothing follows. */
async function pageFrom(
  db: Knex,
  query: LedgerQuery,
  place: string | undefined,
  limit: number,
  { days, common }: Awaited<ReturnType<typeof wayThrough>>,
): Promise<{ page: Reading[]; next: string | undefined }> {
  const asked = { ...query, after: place, before: undefined, end: undefined };
  const { ids, atEnd } = await pageOfIds(db, asked, days, limit, common);
  const rows: StoredReading[] = await withEvidence(joined(db))
    .whereIn("readings.id", ids)
    .select(...wholeColumns(db));
  const byId = new Map((await wholeReadings(db, rows)).map((r) => [r.id, r]));
  const page = ids.flatMap((id) => byId.get(id) ?? []);
  const last = page.at(-1);
  return { page, next: atEnd || !last ? undefined : placeOf(last, query) };
}

/** One page of the readings that a filter finds, from a place on. */
export const readingsFrom = async (db: Knex, query: LedgerQuery, limit: number) =>
  pageFrom(db, query, query.after, limit, await wayThrough(db, query));

/** Every reading that a filter finds, in its order, a page at a time: never more than one page is in memory. */
async function* pagesOfReadings(db: Knex, query: LedgerQuery): AsyncGenerator<Reading[]> {
  const way = await wayThrough(db, query);
  let place: string | undefined;
  do {
    const { page, next } = await pageFrom(db, query, place, pageOfExport, way);
    if (page.length) yield page;
    place = next;
  } while (place !== undefined);
}

/** The file in pieces. */
export async function* exportPieces(db: Knex, { query, format, now }: ExportRequest): AsyncGenerator<string> {
  yield format === "csv" ? csvHead() : jsonHead(now);
  const sets = await listLimitSets(db);
  let first = true;
  for await (const page of pagesOfReadings(db, query)) {
    yield format === "csv" ? csvRows(page, sets) : jsonRows(page, sets, first);
    first = false;
  }
  if (format === "json") yield jsonFoot;
}

/** Writes the file in the worker thread, piece by piece; the next one is made when the last was taken. */
export async function exportInWorker(
  file: string,
  request: ExportRequest,
  _tell: unknown,
  port: MessagePort,
): Promise<void> {
  const db = await openDatabase(file, { migrate: false, once: true });
  try {
    for await (const piece of exportPieces(db, request)) {
      port.postMessage({ piece });
      await new Promise((taken) => port.once("message", taken));
    }
  } finally {
    await db.destroy();
  }
}

/** A database in memory belongs to its thread: there the file is made here. */
const inThisThread = (pieces: AsyncGenerator<string>): ReadableStream<string> =>
  new ReadableStream({
    async pull(controller) {
      const { done, value } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
  });

const types = {
  csv: "text/csv; charset=utf-8",
  json: "application/json; charset=utf-8",
  zip: "application/zip",
};

/**
 * Every reading that the filter in an address finds, as a file that is streamed while it is made: CSV, JSON, or a zip of the CSV with
 * the description of its columns.
 */
export function exportOf(db: Knex, url: URL, ending: keyof typeof types): Response {
  const query = ledgerQuerySchema.parse(
    Object.fromEntries([...url.searchParams].filter(([, v]) => v !== "")),
  );
  const request: ExportRequest = { query, format: ending === "json" ? "json" : "csv", now: nowIso() };
  const file = whereIs(db);
  const body =
    file === null || !workersExist()
      ? inThisThread(exportPieces(db, request))
      : streamFromWorker("export", file, request);
  const bytes = ending === "zip" ? dataPackage(body, request.now) : body.pipeThrough(new TextEncoderStream());
  return new Response(bytes, {
    headers: {
      "Content-Type": types[ending],
      "Content-Disposition": `attachment; filename="brintel-readings.${ending}"`,
      "Cache-Control": "no-store",
    },
  });
}

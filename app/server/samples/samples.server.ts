import type { Knex } from "knex";
import { z } from "zod";
import type { Finding, Verdict } from "../../../core/judgement/finding";
import { type BottleType, bottleTypeSchema, keepsUntil } from "../../../core/samples/bottleTypes";

/** A test that is wanted of a sample. */
export interface WantedOfSample {
  method: string;
  name: string;
  parameter: string | null;
}

const documentSchema = z.looseObject({
  type: bottleTypeSchema,
  /** What was done with it, of a sample that was taken at a visit. */
  bottle: z
    .looseObject({ fixed_at: z.string().nullable(), filtered: z.enum(["filtered", "too-turbid"]).nullable() })
    .nullish(),
  /** How it came here, of a sample that was received without a visit. */
  received: z
    .object({
      at: z.string(),
      from: z.string(),
      temperature_c: z.number().nullable(),
      note: z.string(),
    })
    .optional(),
  /** When it was poured away; of a sample that was, absent where that was before it was noted. */
  poured_at: z.string().optional(),
});
export type SampleDocument = z.infer<typeof documentSchema>;

export const readSampleDocument = (text: string): SampleDocument => documentSchema.parse(JSON.parse(text));

export interface SampleRow {
  id: string;
  code: string;
  visit_id: string | null;
  site_id: string;
  site: string;
  type_id: string;
  type_name: string;
  collected_at: string;
  keeps_until: string;
  status: "kept" | "emptied" | "discarded";
  verdict: Verdict;
  findings: Finding[];
  wanted: WantedOfSample[];
  /** When the first of the tests that are still wanted must be done; null when none is. */
  waits_until: string | null;
}

const columns = [
  "samples.id",
  "samples.code",
  "samples.visit_id",
  "samples.site_id",
  "sites.name as site",
  "samples.type_id",
  "samples.type_name",
  "samples.collected_at",
  "samples.keeps_until",
  "samples.status",
  "samples.verdict",
  "samples.findings",
  "samples.wanted",
  "samples.waits_until",
];

type Stored = Omit<SampleRow, "findings" | "wanted"> & { findings: string; wanted: string };
const fromRow = (row: Stored): SampleRow => ({
  ...row,
  findings: JSON.parse(row.findings),
  wanted: JSON.parse(row.wanted),
});

const joined = (db: Knex) => db("samples").join("sites", "sites.id", "samples.site_id");

export async function findSample(db: Knex, id: string): Promise<SampleRow | undefined> {
  const row: Stored | undefined = await joined(db)
    .where("samples.id", id)
    .first(...columns);
  return row && fromRow(row);
}

/** The sample that bears a code, or whose id was scanned; the newest that is still there. Undefined for a name that is only a name. */
export async function sampleCalled(db: Knex, text: string): Promise<SampleRow | undefined> {
  const asked = text.trim();
  if (!asked) return undefined;
  const row: Stored | undefined =
    (z.ulid().safeParse(asked).success &&
      (await joined(db)
        .where("samples.id", asked.toUpperCase())
        .first(...columns))) ||
    (await joined(db)
      .where("code_key", asked.toLowerCase())
      .whereNot("samples.status", "emptied")
      .orderBy("samples.collected_at", "desc")
      .first(...columns));
  return row && fromRow(row);
}

/** A bottle of some name and site. */
export interface Bottle {
  id: string;
  collected_at: string;
  /** When it was poured away; null where it was not, or nobody noted when. */
  poured_at: string | null;
}

/** The bottles that a query of samples finds, in the order in which they were filled. */
export async function bottlesOf(query: Knex.QueryBuilder): Promise<Bottle[]> {
  const rows: { id: string; collected_at: string; document: string }[] = await query
    .whereNot({ status: "emptied" })
    .orderBy("collected_at")
    .select("id", "collected_at", "document");
  return rows.map(({ document, ...row }) => ({
    ...row,
    poured_at: readSampleDocument(document).poured_at ?? null,
  }));
}

/**
 * Which of the bottles that bore one name, in the order in which they were filled, some work was done on: the last that was full when it was
 * begun; where none was, the first that was filled until it was finished. Null where the name is only a name.
 */
export function bottleMeant(
  bottles: readonly Bottle[],
  { started_at, finished_at }: { started_at: string; finished_at: string },
): string | null {
  const isFull = (b: Bottle) =>
    b.collected_at <= started_at && (b.poured_at === null || b.poured_at >= started_at);
  const full = bottles.filter(isFull).at(-1);
  return (
    (full ?? bottles.find((b) => b.collected_at > started_at && b.collected_at <= finished_at))?.id ?? null
  );
}

/** The id of the sample that a name at a site means for some work; it may be scanned from its label. */
export async function sampleIdCalled(
  db: Knex,
  name: string,
  site_id: string,
  work: { started_at: string; finished_at: string },
): Promise<string | null> {
  const asked = name.trim();
  if (!asked) return null;
  const called = db("samples")
    .where((q) => q.where({ code_key: asked.toLowerCase() }).orWhere({ id: asked.toUpperCase() }))
    .where({ site_id });
  return bottleMeant(await bottlesOf(called), work);
}

/** Samples in one look. */
const pageSize = 40;

export interface SamplesQuery {
  which: "waiting" | "all";
  site?: string | undefined;
  /** The row after which the page begins: its moment and its id. */
  after?: string | undefined;
}

/** A page of the register: those that wait, the most urgent first; or all, the newest first. */
export async function samplesPage(
  db: Knex,
  { which, site, after }: SamplesQuery,
): Promise<{ rows: SampleRow[]; next: string | null }> {
  const waiting = which === "waiting";
  const column = waiting ? "samples.waits_until" : "samples.collected_at";
  const [moment, id] = after?.split("_") ?? [];
  const order = waiting ? "asc" : "desc";
  const than = waiting ? ">" : "<";
  const rows: Stored[] = await joined(db)
    .modify((q) => {
      if (waiting) q.whereNotNull("samples.waits_until");
      if (site) q.where("samples.site_id", site);
      if (moment && id) {
        q.where(column, `${than}=`, moment).whereRaw(`(${column} ${than} ? or samples.id ${than} ?)`, [
          moment,
          id,
        ]);
      }
    })
    .orderBy(column, order)
    .orderBy("samples.id", order)
    .limit(pageSize + 1)
    .select(...columns);
  const last = rows.length > pageSize ? rows[pageSize - 1] : undefined;
  const at = last && (waiting ? last.waits_until : last.collected_at);
  return { rows: rows.slice(0, pageSize).map(fromRow), next: last ? `${at}_${last.id}` : null };
}

export const samplesOfVisit = async (db: Knex, visitId: string): Promise<SampleRow[]> =>
  (
    (await joined(db)
      .where("samples.visit_id", visitId)
      .whereNot("samples.status", "emptied")
      .orderBy("samples.collected_at")
      .select(...columns)) as Stored[]
  ).map(fromRow);

/** Bench work that measures a sample. */
export interface WorkOfSample {
  id: string;
  kind: "reading" | "analysis";
  method_id: string | null;
  title: string | null;
  status: "open" | "finished" | "abandoned";
}

export const worksOfSample = (db: Knex, sampleId: string): Promise<WorkOfSample[]> =>
  db("bench_work")
    .where({ sample_id: sampleId })
    .orderBy("started_at")
    .select("id", "kind", "method_id", "title", "status");

/** What is still wanted of a sample: no work of the method is finished. */
const stillWanted = (
  wanted: readonly WantedOfSample[],
  works: readonly Pick<WorkOfSample, "method_id" | "status">[],
): WantedOfSample[] =>
  wanted.filter((w) => !works.some((k) => k.method_id === w.method && k.status === "finished"));

/** Writes anew until when a sample waits: by what is still wanted of it. */
export async function refreshWaiting(trx: Knex, sampleId: string): Promise<void> {
  const row: { collected_at: string; status: string; wanted: string; document: string } | undefined =
    await trx("samples").where({ id: sampleId }).first("collected_at", "status", "wanted", "document");
  if (!row) return;
  const { type } = readSampleDocument(row.document);
  await trx("samples")
    .where({ id: sampleId })
    .update({
      waits_until:
        row.status === "kept"
          ? firstNeeded(type, row.collected_at, JSON.parse(row.wanted), await worksOfSample(trx, sampleId))
          : null,
    });
}

function firstNeeded(
  type: BottleType,
  collected_at: string,
  wanted: readonly WantedOfSample[],
  works: readonly WorkOfSample[],
): string | null {
  const moments = stillWanted(wanted, works).map((w) =>
    keepsUntil(type, collected_at, w.parameter ?? undefined),
  );
  return moments.sort()[0] ?? null;
}

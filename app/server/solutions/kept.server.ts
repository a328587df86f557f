import type { Knex } from "knex";
import { z } from "zod";
import type { Answer } from "../../../core/calculators/define";
import { calculate, findCalculator } from "../../../core/calculators/registry";
import { calculateApart } from "../plans/planRunner.server";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";
import { sampleCalled } from "../samples/samples.server";
import { lotsOfCodes, lotsOfIds } from "../stock/lots.server";

/** What a calculation may belong to. */
export type SubjectKind = "lot" | "sample" | "meter" | "run";

/** A record that a calculation belongs to, as it is called. */
export interface Subject {
  kind: SubjectKind;
  id: string;
  label: string;
  href: string;
}

const words: Record<SubjectKind, { called: string; at: string }> = {
  lot: { called: "Lot", at: "/stock" },
  sample: { called: "Sample", at: "/samples" },
  meter: { called: "Meter", at: "/meters" },
  run: { called: "Run", at: "/runs" },
};
const subjectOf = (kind: SubjectKind, id: string, name: string): Subject => ({
  kind,
  id,
  label: `${words[kind].called} ${name}`,
  href: `${words[kind].at}/${id}`,
});

/** The record that bears a code, or has an id: a sample, a lot, a meter, a run; null where none does. */
export async function subjectCalled(db: Knex, text: string): Promise<Subject | null> {
  const asked = text.trim();
  if (!asked) return null;
  const sample = await sampleCalled(db, asked);
  if (sample) return subjectOf("sample", sample.id, sample.code);
  const [lot] = [...(await lotsOfCodes(db, [asked])), ...(await lotsOfIds(db, [asked]))];
  if (lot) return subjectOf("lot", lot.id, lot.lot.code);
  const meter: { id: string; code: string } | undefined = await db("meters")
    .where({ id: asked })
    .orWhereRaw("lower(code) = ?", [asked.toLowerCase()])
    .first("id", "code");
  if (meter) return subjectOf("meter", meter.id, meter.code);
  const run: { id: string; title: string | null } | undefined = await db("bench_work")
    .where({ id: asked, kind: "analysis" })
    .first("id", "title");
  return run ? subjectOf("run", run.id, run.title ?? "") : null;
}

export const toKeepSchema = z.object({
  id: z.ulid(),
  calculator: z.string().max(60),
  inputs: z.record(z.string(), z.unknown()),
  note: z.string().trim().max(200, { error: "Keep it under 201 characters." }),
});

/**
 * Keeps a calculation with what it belongs to. It is calculated here once more: what is kept was never typed. The same form sent twice
 * keeps it once. A sentence where it cannot be kept.
 */
export async function keepCalculation(
  db: Knex,
  { id, calculator, inputs, note }: z.infer<typeof toKeepSchema>,
  subject: Subject | null,
  actor: Actor,
  now: string,
): Promise<string | null> {
  const answer = findCalculator(calculator)?.searches
    ? ((await calculateApart(calculator, inputs)) as Answer | null)
    : calculate(calculator, inputs);
  if (!answer) return "Too many of these run at once. Keep it in a moment.";
  if ("errors" in answer) return "What stands in the fields gives no result yet.";
  return write(db, actor, "measure", async (trx) => {
    if (await trx("kept_calculations").where({ id }).first("id")) return null;
    const row = { calculator, subject_kind: subject?.kind ?? null, subject_id: subject?.id ?? null, note };
    await trx("kept_calculations").insert({
      id,
      ...row,
      inputs: JSON.stringify(inputs),
      answer: JSON.stringify(answer.outputs),
      at: now,
      person_id: actor.id,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "calculation kept",
        subject_kind: "calculation",
        subject_id: id,
        after: { ...row, inputs, outputs: answer.outputs },
      },
    ]);
    return null;
  });
}

interface KeptRow {
  id: string;
  calculator: string;
  inputs: string;
  answer: string;
  subject_kind: SubjectKind | null;
  subject_id: string | null;
  note: string;
  at: string;
  by: string;
}
const rows = (db: Knex) =>
  db("kept_calculations as k")
    .join("people as p", "p.id", "k.person_id")
    .orderBy("k.id", "desc")
    .select("k.*", "p.name as by") as Knex.QueryBuilder<object, KeptRow[]>;

/** A calculation in a list. */
export interface KeptLine {
  id: string;
  title: string;
  note: string;
  at: string;
  by: string;
  href: string;
}
const lineOf = ({ id, calculator, note, at, by }: KeptRow): KeptLine => ({
  id,
  title: findCalculator(calculator)?.title ?? calculator,
  note,
  at,
  by,
  href: `/solutions/${calculator}?kept=${id}`,
});

/** So many are shown with the record they belong to. */
const shownWithRecord = 20;

/** The calculations that belong to a record, the newest first. */
export const keptFor = async (db: Knex, kind: SubjectKind, id: string): Promise<KeptLine[]> =>
  (await rows(db).where({ "k.subject_kind": kind, "k.subject_id": id }).limit(shownWithRecord)).map(lineOf);

/** The newest calculations that were kept, whatever they belong to. */
export const latestKept = async (db: Knex, limit: number): Promise<KeptLine[]> =>
  (await rows(db).limit(limit)).map(lineOf);

/** A calculation as it was kept: inputs, what came of them then, and what it belongs to. */
export async function findKept(db: Knex, id: string) {
  const [row] = await rows(db).where({ "k.id": id }).limit(1);
  if (!row) return null;
  return {
    ...lineOf(row),
    calculator: row.calculator,
    inputs: JSON.parse(row.inputs) as Record<string, unknown>,
    outputs: JSON.parse(row.answer) as Record<string, unknown>,
    subject: row.subject_id ? await subjectCalled(db, row.subject_id) : null,
  };
}

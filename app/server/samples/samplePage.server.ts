import type { Knex } from "knex";
import type { Finding, Verdict } from "../../../core/judgement/finding";
import { keepsUntil } from "../../../core/samples/bottleTypes";
import { addedTo } from "../../../core/samples/visit";
import { nowIso } from "../platform/clock.server";
import { joined, type ReadingRow, rowColumns } from "../results/readings.server";
import { rulesInForce } from "../rules/rules.server";
import { listMethods } from "../runs/methods.server";
import { keptFor } from "../solutions/kept.server";
import { findSample, readSampleDocument, type SampleDocument, worksOfSample } from "./samples.server";

/** A test that is wanted of a sample, until when it can be made, and the work that makes it. */
export interface WantedLine {
  method: string;
  name: string;
  keeps_until: string;
  work: { id: string; status: "open" | "finished" } | null;
}

/** Everything the page of one sample shows. */
export async function loadSample(db: Knex, id: string) {
  const sample = await findSample(db, id);
  if (!sample) throw new Response("No such sample", { status: 404 });
  const { document }: { document: string } = await db("samples").where({ id }).first("document");
  const { type, received, bottle }: SampleDocument = readSampleDocument(document);
  const works = await worksOfSample(db, id);
  const wanted = sample.wanted.map(({ method, name, parameter }): WantedLine => {
    const own = works.filter((w) => w.method_id === method && w.status !== "abandoned");
    const work = own.find((w) => w.status === "finished") ?? own[0];
    return {
      method,
      name,
      keeps_until: keepsUntil(type, sample.collected_at, parameter ?? undefined),
      work: work ? { id: work.id, status: work.status as "open" | "finished" } : null,
    };
  });
  const readings: ReadingRow[] = await joined(db)
    .where("readings.sample_id", id)
    .orderBy("readings.measured_at")
    .limit(200)
    .select(...rowColumns(db));
  const methods = (await listMethods(db)).flatMap(({ method }) =>
    method.measure.technique === "meter" || sample.wanted.some((w) => w.method === method.id)
      ? []
      : [{ id: method.id, name: method.name }],
  );
  return {
    sample,
    type,
    added: addedTo(type, bottle),
    received: received ?? null,
    kept: await keptFor(db, "sample", sample.id),
    wanted,
    readings,
    methods,
    batches: await batchesOfSample(db, id),
    zone: (await rulesInForce(db)).rules.zone,
    now: nowIso(),
  };
}

interface BatchOfSample {
  id: string;
  laboratory: string;
  made_at: string;
  received_at: string | null;
  status: string;
  findings: Finding[];
}

async function batchesOfSample(db: Knex, id: string): Promise<BatchOfSample[]> {
  const rows: (Omit<BatchOfSample, "findings"> & { findings: string })[] = await db("batch_samples")
    .join("batches", "batches.id", "batch_samples.batch_id")
    .where({ sample_id: id })
    .orderBy("made_at")
    .select("batches.id", "laboratory", "made_at", "received_at", "status", "findings");
  return rows.map((r) => ({ ...r, findings: JSON.parse(r.findings) }));
}

/** What a label says of a sample. */
export interface LabelOfSample {
  id: string;
  code: string;
  site: string;
  type_id: string;
  bottle: string;
  preservative: string | null;
  collected_at: string;
  by: string;
  tests: string[];
  verdict: Verdict;
}

/** The labels of samples, in the order asked for. */
export async function labelsOf(db: Knex, ids: readonly string[]): Promise<LabelOfSample[]> {
  const rows: (Omit<LabelOfSample, "tests" | "preservative"> & { wanted: string; document: string })[] =
    await db("samples")
      .join("sites", "sites.id", "samples.site_id")
      .join("people", "people.id", "samples.person_id")
      .whereIn("samples.id", [...ids])
      .select(
        "samples.id",
        "samples.code",
        "sites.name as site",
        "samples.type_id",
        "samples.type_name as bottle",
        "samples.collected_at",
        "people.name as by",
        "samples.verdict",
        "samples.wanted",
        "samples.document",
      );
  const labels = rows.map(({ wanted, document, ...row }) => {
    const { type, bottle } = readSampleDocument(document);
    return {
      ...row,
      preservative: addedTo(type, bottle),
      tests: (JSON.parse(wanted) as { name: string }[]).map((w) => w.name),
    };
  });
  return ids.flatMap((id) => labels.find((l) => l.id === id) ?? []);
}

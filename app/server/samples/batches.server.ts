import type { Knex } from "knex";
import { z } from "zod";
import { replay } from "../../../core/bench/event";
import { withHouseNumbers } from "../../../core/quantity/houseNumbers";
import { custodyFolding } from "../../../core/samples/custody";
import { custodyFile } from "../../../core/samples/custodyDocument";
import type { BatchHead, CustodySample, CustodyStarted } from "../../../core/samples/custodyEvents";
import { type CustodyPaper, custodyPaper } from "../../../core/samples/custodyPaper";
import { labTestOf } from "../../../core/samples/labTests";
import { addedTo } from "../../../core/samples/visit";
import { custodyEvents, findWork, orUnreadable, startWork } from "../bench/bench.server";
import { newWork, type Start } from "../bench/benchWork.server";
import type { Person } from "../people/people.server";
import { nowMs } from "../platform/clock.server";
import { write } from "../platform/write.server";
import { rulesInForce } from "../rules/rules.server";
import { projectBatch } from "./projectBatch.server";
import { readSampleDocument } from "./samples.server";

/** Which tests a bottle goes to the laboratory for. */
export type TestsOfSample = Record<string, readonly string[]>;

/** Bottles as they go to a laboratory, with what the receiver must know; ids that no bottle has are left out. */
export async function custodySamples(db: Knex, tests: TestsOfSample): Promise<CustodySample[]> {
  const rows: {
    id: string;
    code: string;
    site_id: string;
    site: string;
    water: string;
    type_name: string;
    collected_at: string;
    keeps_until: string;
    document: string;
  }[] = await db("samples")
    .join("sites", "sites.id", "samples.site_id")
    .whereIn("samples.id", Object.keys(tests))
    .where("samples.status", "kept")
    .select(
      "samples.id",
      "samples.code",
      "samples.site_id",
      "sites.name as site",
      "sites.water",
      "samples.type_name",
      "samples.collected_at",
      "samples.keeps_until",
      "samples.document",
    );
  return rows.map(({ type_name, document, ...row }) => {
    const { type, bottle } = readSampleDocument(document);
    return {
      ...row,
      bottle: type_name,
      preservative: addedTo(type, bottle),
      filtered: type.filter ? (bottle?.filtered ?? "not") : null,
      arrives_c: type.arrives_c,
      tests: (tests[row.id] ?? []).flatMap((parameter) => {
        const test = labTestOf(parameter);
        return test ? [{ parameter, name: test.analyte }] : [];
      }),
    };
  });
}

/** Makes a batch for a laboratory; the same id again is the same batch. */
export async function startBatch(
  db: Knex,
  start: Start,
  batch: BatchHead,
  samples: CustodySample[],
): Promise<void> {
  const { version } = await rulesInForce(db);
  const started: CustodyStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    batch,
    samples,
  };
  const work = newWork("custody", start, version, { title: batch.laboratory });
  await write(db, start.actor, "measure", async (trx) => {
    await startWork(trx, start.actor, work, started, start.at);
    const { state } = replay([started], custodyFolding);
    const kept = await findWork(trx, work.id);
    if (state && kept?.event_count === 1)
      await projectBatch(trx, kept, state, { by: start.actor.id, now: start.at });
  });
}

/** Everything the page of one batch shows. */
export async function loadBatch(db: Knex, id: string, person: Person) {
  const work = await findWork(db, id);
  if (work?.kind !== "custody") throw new Response("No such batch", { status: 404 });
  const { rules } = await rulesInForce(db);
  const results: { id: string; verdict: string; sample_id: string; parameter: string }[] = await db(
    "readings",
  )
    .where({ work_id: id })
    .select("id", "verdict", "sample_id", "parameter");
  return {
    work,
    person,
    zone: rules.zone,
    now: nowMs(),
    events: await custodyEvents(db, id).catch(orUnreadable(id)),
    results,
  };
}
export type LoadedBatch = Awaited<ReturnType<typeof loadBatch>>;

/** The state of a batch as the server has it. Errors: a 404 where there is none. */
export async function batchState(db: Knex, id: string) {
  const work = await findWork(db, id);
  const { state } =
    work?.kind === "custody" ? replay(await custodyEvents(db, id), custodyFolding) : { state: null };
  if (!work || !state) throw new Response("No such batch", { status: 404 });
  return { work, state, zone: (await rulesInForce(db)).rules.zone };
}

export interface BatchLine {
  id: string;
  laboratory: string;
  made_at: string;
  received_at: string | null;
  samples: number;
  awaited: number;
  gaps: number;
  status: "open" | "finished" | "abandoned";
}

/** The newest batches. */
export const recentBatches = (db: Knex, most = 40): Promise<BatchLine[]> =>
  db("batches").orderBy("made_at", "desc").orderBy("id", "desc").limit(most);

/** So many samples go into one batch, or onto one sheet of labels. */
const mostChosen = 200;

/** Ids of samples as an address or a form lists them; what is no id is left out. */
export const idsIn = (values: readonly unknown[]): string[] =>
  values.flatMap((v) => z.ulid().safeParse(v).data ?? []).slice(0, mostChosen);

/** The page that travels with a batch, with the numbers of the house. */
export async function batchPaper(db: Knex, workId: string): Promise<CustodyPaper> {
  const { state, zone } = await batchState(db, workId);
  const { decimal_mark } = (await rulesInForce(db)).rules;
  return withHouseNumbers(custodyPaper(custodyFile(workId, state, zone)), decimal_mark);
}

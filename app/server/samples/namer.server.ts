import type { Knex } from "knex";
import type { SamplingEvidence } from "../../../core/results/rules/sampling";
import type { RunState } from "../../../core/runs/runState";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { sampleIdCalled } from "./samples.server";
import { samplingReader } from "./sampling.server";

type FromBottle = Pick<RunState, "site" | "sample" | "started_at" | "finished_at" | "subject">;

/** What a result is called, and the bottle that this means. */
interface Named {
  sample: string;
  sample_id: string | null;
  sampling: SamplingEvidence | undefined;
}

/**
 * Names the results of a piece of work, and says which bottle each is of. Work that was begun before its sample was known here (its visit's
 * device had no network) finds it now by the name on it. A name that was amended stays so when an event arrives late.
 */
export async function namer(
  trx: Knex,
  work: BenchWork,
  { site, sample, started_at, finished_at, subject }: FromBottle,
  { late }: Finishing,
): Promise<(id: string, parameter: string) => Promise<Named>> {
  const during = { started_at, finished_at: finished_at ?? started_at };
  // A blank may bear the sample's name; it is not of its water. A name that means nothing any more means what it did.
  const own =
    subject.kind === "sample"
      ? ((await sampleIdCalled(trx, sample, site.id, during)) ?? work.sample_id)
      : null;
  const bottle = async (name: string, sample_id: string | null, parameter: string): Promise<Named> => {
    const read = await samplingReader(trx, sample_id ? [sample_id] : []);
    return { sample: name, sample_id, sampling: sample_id ? read(sample_id, parameter) : undefined };
  };
  return async (id, parameter) => {
    const amended = late ? await amendedName(trx, id) : undefined;
    return amended === undefined || subject.kind !== "sample"
      ? bottle(amended ?? sample, own, parameter)
      : bottle(amended, await sampleIdCalled(trx, amended, site.id, during), parameter);
  };
}

/** The name that somebody gave a result's sample last; undefined where nobody amended it. */
async function amendedName(trx: Knex, id: string): Promise<string | undefined> {
  const last: { after: string } | undefined = await trx("amendments")
    .where({ reading_id: id, what: "sample" })
    .orderBy("id", "desc")
    .first("after");
  return last?.after;
}

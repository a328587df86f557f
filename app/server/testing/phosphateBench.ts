import { ulid } from "ulid";
import type { Subject } from "../../../core/bench/subject";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { findReading } from "../results/readings.server";
import type { benchForEachTest } from "./benchForEachTest";
import { openTestRun, postPlayed } from "./benchRun";

/** A moment of April 2026. */
export const at = (h: number, min = 0, day = 12) =>
  `2026-04-${String(day).padStart(2, "0")}T${String(h).padStart(2, "0")}:${String(min).padStart(2, "0")}:00.000Z`;

/** 0.1 mL of 50 mg/L in 10 mL of a sample. */
export const spikeOf = (unspiked_id: string): Subject => ({
  kind: "spike",
  code: "PS-1",
  lot_id: null,
  unspiked_id,
  sample_ml: 10,
  spike_ml: 0.1,
  strength: 50,
});

/** Phosphate runs of whatever one wants to be in the vial, and what becomes of their results. */
export function phosphateBench(use: ReturnType<typeof benchForEachTest>) {
  /** A run of something that holds so much, in both portions or in each as it is said; returns the id of its result. */
  async function run(
    size: number | readonly number[],
    begun: string,
    subject: Subject = { kind: "sample" },
  ): Promise<string> {
    const method = libraryMethod("phosphate-photometer");
    const work = ulid(Date.parse(begun));
    await openTestRun(use.bench, method, begun, { work, subject });
    const player = new RunPlayer(method, { subject }, Date.parse(begun));
    if (typeof size === "number") player.play(size);
    else {
      for (const portion of size) player.read(portion);
      player.finish();
    }
    await postPlayed(use.bench, work, player.events, begun);
    return `${work}-phosphate`;
  }
  const read = async (id: string) => {
    const reading = await findReading(use.bench.db, id);
    if (!reading) throw new Error("There is no such result.");
    return reading;
  };
  return {
    run,
    read,
    verdictOf: async (id: string) => (await read(id)).verdict,
    saidOf: async (id: string) => (await read(id)).findings.map((f) => f.sentence).join(" "),
  };
}

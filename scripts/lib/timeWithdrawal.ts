import { ulid } from "ulid";
import { confirmRejudging } from "../../app/server/results/rejudge.server";
import { previewRejudging } from "../../app/server/results/rejudgeChanges.server";
import { runRejudging } from "../../app/server/results/rejudgeRun.server";
import { addLot, changeLot } from "../../app/server/stock/lots.server";
import { openTestRun, postPlayed } from "../../app/server/testing/benchRun";
import { fillWithReadings } from "../../app/server/testing/manyReadings";
import { openTestBench, testNow } from "../../app/server/testing/testBench";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import type { SupplyLot } from "../../core/stock/supply";

const lots = 1000;
const readings = 50_000;
/** Each bottle that was bought has so many others made from it, one from the other. */
const family = 10;

const starch = (code: string): SupplyLot => ({
  kind: "indicator",
  code,
  name: "Starch indicator",
  serves: ["Starch indicator"],
  strength: null,
  formula: "",
  purity_percent: null,
  kit: null,
  received_on: "2026-01-01",
  opened_on: "2026-01-01",
  expires_on: "2031-01-01",
  shelf_life_open_days: null,
  size: null,
  portion: null,
  unit: "mL",
  place: "",
  hazards: [],
  withdrawn: null,
  discarded: null,
});

/** How long it takes to see, and then to make so, what the withdrawal of one of a thousand bottles does among fifty thousand readings. */
export async function timeWithdrawal(): Promise<{ touched: number; preview_ms: number; run_ms: number }> {
  const bench = await openTestBench();
  const { db, person } = bench;
  const ids: string[] = [];
  for (let i = 0; i < lots; i++) {
    const stored = await addLot(db, starch(`S-${i}`), person, testNow);
    if (stored) ids.push(stored.id);
  }
  const method = libraryMethod("oxygen-burette");
  const named = [
    { material: "starch", name: "Starch indicator", code: "S-0", expires_on: null, reason: null },
  ];
  const model = await openTestRun(bench, method, testNow);
  const played = new RunPlayer(method, { lots: named }).play(8);
  await postPlayed(bench, model, played.events, testNow);
  await fillWithReadings(db, `${model}-oxygen`, readings, testNow, "2026-10-01T00:00:00.000Z");
  const work = await db("bench_work").where({ id: model }).first();
  await db.transaction(async (trx) => {
    for (const [i, lot_id] of ids.entries()) {
      const id = ulid();
      await trx("bench_work").insert({ ...work, id });
      const parent = i % family === 0 ? null : ids[i - 1];
      const use = { work_id: id, amount: null, at: testNow, into_lot_id: null };
      await trx("lot_uses").insert({ ...use, lot_id, role: "material", slot: "starch" });
      if (parent)
        await trx("lot_uses").insert({
          ...use,
          lot_id: parent,
          role: "parent",
          slot: "made",
          into_lot_id: lot_id,
        });
      const each = readings / lots;
      const theirs = Array.from({ length: each }, (_, k) => `${model}-oxygen-${i * each + k}`);
      await trx("readings").whereIn("id", theirs).update({ work_id: id });
    }
  });
  const root = ids[500] ?? "";
  const withdrawn = { on: "2026-11-01", since: "2026-01-01", reason: "mouldy" };
  await changeLot(db, root, (l) => ({ ...l, withdrawn }), person, "2026-11-01T08:00:00.000Z", "mouldy");
  const request = { kind: "lot" as const, subject_id: root };
  let begun = performance.now();
  const preview = await previewRejudging(db, request);
  const preview_ms = performance.now() - begun;
  const job = await confirmRejudging(db, request, "mouldy", person, "2026-11-01T09:00:00.000Z");
  begun = performance.now();
  await runRejudging(db, job, "2026-11-01T10:00:00.000Z");
  const run_ms = performance.now() - begun;
  await db.destroy();
  return { touched: preview.readings, preview_ms, run_ms };
}

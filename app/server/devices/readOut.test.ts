import { describe, expect, it } from "vitest";
import { findImport, tableOf } from "../exchange/importFile.server";
import { beginTaking, lookAt } from "../exchange/importRunner.server";
import { sitesInUse } from "../sites/sites.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { testNow } from "../testing/testBench";
import { clearMemory, findDevice, memoryAt, pressStore, setLogging } from "./devices.server";
import { putProbe } from "./handOutside.server";
import { readOutMemory } from "./readOut.server";

const use = benchForEachTest();
const memoryOf = async (db: typeof use.bench.db, meterId: string, now: string) => {
  const device = await findDevice(db, meterId);
  return device && memoryAt(device, now);
};
const later = (minutes: number) => new Date(Date.parse(testNow) + minutes * 60_000).toISOString();
const at = (minutes: number) => `${later(minutes).slice(0, 19)}Z`;

async function readOut(minutes: number) {
  const { db, meter, person } = use.bench;
  const kept = await readOutMemory(db, meter.id, person, later(minutes));
  if ("message" in kept) throw new Error(kept.message);
  const row = await findImport(db, kept.id);
  if (!row) throw new Error("It was not kept.");
  return row;
}
const inPond = async (minutes: number) => {
  const pond = (await sitesInUse(use.bench.db)).find((s) => s.name === "Bathing pond");
  expect(await putProbe(use.bench.db, use.bench.meter.id, `site:${pond?.id}`, later(minutes))).toBe(true);
};

describe("a simulated instrument's memory", () => {
  it("keeps what was shown when its key was pressed, and nothing twice in the ledger", async () => {
    const { db, meter, person } = use.bench;
    expect(await readOutMemory(db, meter.id, person, later(0))).toEqual({
      message: "There is nothing in its memory.",
    });
    await inPond(0);
    await pressStore(db, meter.id, later(10));
    await pressStore(db, meter.id, later(11));
    const row = await readOut(12);
    const table = await tableOf(db, row.id);
    expect(table?.rows.map(({ cells }) => [cells.Date, cells.Place, cells.Instrument])).toEqual([
      [at(10), "Bathing pond", meter.code],
      [at(11), "Bathing pond", meter.code],
    ]);
    const looked = await lookAt(db, row);
    expect(looked.refused).toBe(0);
    expect(await beginTaking(db, row, false, person)).toBeNull();
    const taken = await db("readings").where({ work_id: row.id }).pluck("verdict");
    expect(taken).toHaveLength(looked.taken);
    expect(new Set(taken)).toEqual(new Set(["qualified"]));
    // Read out once more with one moment more: only that one is new.
    await pressStore(db, meter.id, later(20));
    const more = await lookAt(db, await readOut(21));
    expect(more.taken).toBe(looked.taken / 2);
    expect(new Set(more.why.map((r) => r.reason))).toEqual(
      new Set(["The ledger has a result of this moment already."]),
    );
  });

  it("logs by itself in even steps where the probe was at each of them", async () => {
    const { db, meter } = use.bench;
    await setLogging(db, meter.id, 15, later(0));
    await inPond(20);
    const memory = await memoryOf(db, meter.id, later(46));
    expect(memory?.stored.map((s) => [s.at, s.place])).toEqual([
      [later(15), "air"],
      [later(30), "Bathing pond"],
      [later(45), "Bathing pond"],
    ]);
    // Looking changes nothing; pressing a key keeps what was logged until then.
    expect((await findDevice(db, meter.id))?.state.memory.stored).toHaveLength(1);
    await pressStore(db, meter.id, later(46));
    expect((await memoryOf(db, meter.id, later(47)))?.stored).toHaveLength(4);
    await setLogging(db, meter.id, null, later(50));
    expect((await memoryOf(db, meter.id, later(500)))?.stored).toHaveLength(4);
    await clearMemory(db, meter.id, later(501));
    expect((await memoryOf(db, meter.id, later(502)))?.stored).toEqual([]);
  });

  it("is none of a meter without a cable", async () => {
    const { db, person } = use.bench;
    expect(await readOutMemory(db, "none", person, later(0))).toEqual({
      message: "This meter has no cable.",
    });
  });
});

import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { usualFault } from "../../../core/simulation/fault";
import { postEvents } from "../bench/bench.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { beginCalibration, beginReading, liveCapture, testNow, wholeRun } from "../testing/testBench";
import { findDevice, setFaults } from "./devices.server";
import { followWithProbe } from "./simulatedProbe.server";

const use = benchForEachTest();

/** Keeps events as the bench's door does, with the probe listening. */
async function post(work: string, events: readonly unknown[], at: string): Promise<void> {
  const { db, person } = use.bench;
  await followWithProbe(db, await postEvents(db, person, work, events, at), at);
}

const later = (seconds: number) => new Date(Date.parse(testNow) + seconds * 1000).toISOString();
const event = (type: "rinsed" | "placed", station: number, at: string) => ({
  id: ulid(),
  at,
  by: use.bench.person.id,
  type,
  station,
});
const probe = async () => (await findDevice(use.bench.db, use.bench.meter.id))?.state;

describe("the simulated probe", () => {
  it("goes where the technician says it is", async () => {
    const work = await beginCalibration(use.bench);
    await post(work, [event("rinsed", 0, later(5))], later(5));
    expect((await probe())?.medium.kind).toBe("rinse");
    await post(work, [event("placed", 0, later(9))], later(9));
    expect((await probe())?.medium).toMatchObject({
      kind: "standard",
      label: "Buffer 7.00",
      temperature_c: 20.4,
    });
    expect((await probe())?.medium.ph).toBeCloseTo(7.0184, 3);
    expect((await probe())?.rinsed).toBe(true);
  });

  it("carries the last solution over when the rinse was left out", async () => {
    const work = await beginCalibration(use.bench);
    const [, placed, captured] = wholeRun(use.bench, [liveCapture(-4)]);
    await post(work, [placed, captured], later(3));
    await post(work, [event("placed", 1, later(60))], later(60));
    expect((await probe())?.rinsed).toBe(false);
    expect((await probe())?.last.ph).toBeCloseTo(7.0184, 3);
  });

  it("finds the other bottle when the first two were swapped, and the right one for the check", async () => {
    await setFaults(use.bench.db, use.bench.meter.id, [usualFault("swapped-buffers")], testNow);
    const work = await beginCalibration(use.bench);
    await post(work, [event("placed", 0, later(2))], later(2));
    expect((await probe())?.medium.label).toBe("Buffer 10.01");
    const run = wholeRun(
      use.bench,
      [-176, -4, -130].map((mv) => liveCapture(mv)),
    );
    const rest = run.filter((e) => !("station" in e && e.station === 0 && e.type !== "captured")).slice(0, 6);
    await post(work, rest, later(200));
    expect((await probe())?.medium.label).toBe("Buffer 9.18");
  });

  it("meets the same water in both portions of a sample", async () => {
    const calibration = await beginCalibration(use.bench);
    const sound = [-4, -179.6, -131.5].map((mv) => liveCapture(mv));
    await post(calibration, wholeRun(use.bench, sound), testNow);
    const work = await beginReading(use.bench);
    const run = wholeRun(use.bench, [liveCapture(-60, 15), liveCapture(-60, 15)]);
    await post(work, run.slice(0, 2), later(300));
    const first = (await probe())?.medium;
    await post(work, run.slice(2, 5), later(400));
    expect((await probe())?.medium).toEqual(first);
    expect(first?.label).toBe("Bathing pond");
    expect(first?.ph).toBeGreaterThan(7.4);
    expect(first?.ph).toBeLessThan(8.6);
  });

  it("does not move for a capture, an undo or a note", async () => {
    const work = await beginCalibration(use.bench);
    const [rinsed, placed, captured] = wholeRun(use.bench, [liveCapture(-4)]);
    await post(work, [rinsed, placed], later(1));
    const before = await probe();
    const undo = { id: ulid(), at: later(70), by: use.bench.person.id, type: "undone", target: captured?.id };
    const note = { id: ulid(), at: later(71), by: use.bench.person.id, type: "noted", text: "dull glass" };
    await post(work, [captured, undo, note], later(71));
    expect(await probe()).toEqual(before);
  });
});

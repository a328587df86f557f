import { ulid } from "ulid";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { postEvents } from "./bench.server";
import { findDevice, setFaults } from "./devices.server";
import {
  beginCalibration,
  beginReading,
  liveCapture,
  openTestBench,
  type TestBench,
  testNow,
  wholeRun,
} from "./testing/testBench";

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench();
});
afterEach(() => bench.db.destroy());

const later = (seconds: number) => new Date(Date.parse(testNow) + seconds * 1000).toISOString();
const event = (type: "rinsed" | "placed", station: number, at: string) => ({
  id: ulid(),
  at,
  by: bench.person.id,
  type,
  station,
});
const probe = async () => (await findDevice(bench.db, bench.meter.id))?.state;

describe("the simulated probe", () => {
  it("goes where the technician says it is", async () => {
    const work = await beginCalibration(bench);
    await postEvents(bench.db, work, [event("rinsed", 0, later(5))], later(5));
    expect((await probe())?.medium.kind).toBe("rinse");
    await postEvents(bench.db, work, [event("placed", 0, later(9))], later(9));
    expect((await probe())?.medium).toMatchObject({
      kind: "buffer",
      label: "buffer 7.00",
      temperature_c: 20.4,
    });
    expect((await probe())?.medium.ph).toBeCloseTo(7.0184, 3);
    expect((await probe())?.rinsed).toBe(true);
  });

  it("carries the last solution over when the rinse was left out", async () => {
    const work = await beginCalibration(bench);
    const [, placed, captured] = wholeRun(bench, [liveCapture(-4)]);
    await postEvents(bench.db, work, [placed, captured], later(3));
    await postEvents(bench.db, work, [event("placed", 1, later(60))], later(60));
    expect((await probe())?.rinsed).toBe(false);
    expect((await probe())?.last_ph).toBeCloseTo(7.0184, 3);
  });

  it("finds the other bottle when the first two were swapped, and the right one for the check", async () => {
    await setFaults(bench.db, bench.meter.id, ["swapped-buffers"], testNow);
    const work = await beginCalibration(bench);
    await postEvents(bench.db, work, [event("placed", 0, later(2))], later(2));
    expect((await probe())?.medium.label).toBe("buffer 10.01");
    const run = wholeRun(
      bench,
      [-176, -4, -130].map((mv) => liveCapture(mv)),
    );
    const rest = run.filter((e) => !("station" in e && e.station === 0 && e.type !== "captured")).slice(0, 6);
    await postEvents(bench.db, work, rest, later(200));
    expect((await probe())?.medium.label).toBe("buffer 9.18");
  });

  it("meets the same water in both portions of a sample", async () => {
    const calibration = await beginCalibration(bench);
    const sound = [-4, -179.6, -131.5].map((mv) => liveCapture(mv));
    await postEvents(bench.db, calibration, wholeRun(bench, sound), testNow);
    const work = await beginReading(bench);
    const run = wholeRun(bench, [liveCapture(-60, 15), liveCapture(-60, 15)]);
    await postEvents(bench.db, work, run.slice(0, 2), later(300));
    const first = (await probe())?.medium;
    await postEvents(bench.db, work, run.slice(2, 5), later(400));
    expect((await probe())?.medium).toEqual(first);
    expect(first?.label).toBe("Bathing pond");
    expect(first?.ph).toBeGreaterThan(7.4);
    expect(first?.ph).toBeLessThan(8.6);
  });

  it("does not move for a capture, an undo or a note", async () => {
    const work = await beginCalibration(bench);
    const [rinsed, placed, captured] = wholeRun(bench, [liveCapture(-4)]);
    await postEvents(bench.db, work, [rinsed, placed], later(1));
    const before = await probe();
    const undo = { id: ulid(), at: later(70), by: bench.person.id, type: "undone", target: captured?.id };
    const note = { id: ulid(), at: later(71), by: bench.person.id, type: "noted", text: "dull glass" };
    await postEvents(bench.db, work, [captured, undo, note], later(71));
    expect(await probe()).toEqual(before);
  });
});

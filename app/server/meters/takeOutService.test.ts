import { describe, expect, it } from "vitest";
import type { NewService } from "../../../core/bench/service";
import type { Finding } from "../../../core/judgement/finding";
import { recordId } from "../bench/benchWork.server";
import { verifyJournal } from "../bench/verifyJournal.server";
import { dueList } from "../day/due.server";
import { unpack } from "../platform/pack.server";
import { findReading } from "../results/readings.server";
import { confirmRejudging } from "../results/rejudge.server";
import { runRejudging } from "../results/rejudgeRun.server";
import { changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { at } from "../testing/phosphateBench";
import { calibratedPond, checkedPond, openTestBench, pondReading } from "../testing/testBench";
import { findMeter } from "./meters.server";
import { recordService, serviceLog } from "./service.server";
import { takeServiceOut } from "./takeOutService.server";

const use = benchForEachTest();
const water = { conductivity: 500, ph: -62, oxygen: 80 };
const right = { conductivity: 718, ph: 0, oxygen: 90 };

/** Writes down what was done to the oxygen sensor of the pond's meter at an hour; has what rests on it judged. */
async function done(
  h: number,
  change: Partial<NewService> & { lot_id?: string | null } = {},
): Promise<string> {
  const { db, person, pond } = use.bench;
  const service = {
    kind: "membrane-changed" as const,
    measurand: "oxygen",
    on_date: "2026-04-12",
    code: "",
    note: "",
    ...change,
  };
  const { id, rejudging } = await recordService(db, pond, service, person, at(h));
  if (rejudging) await runRejudging(db, rejudging, at(h));
  return id;
}

/** Takes an entry out at an hour, and has what it touched judged. */
async function out(id: string, h: number): Promise<string | undefined> {
  const { db, person } = use.bench;
  const { rejudging, refused } = await takeServiceOut(db, id, "It was only cleaned.", person, at(h));
  if (rejudging) await runRejudging(db, rejudging, at(h));
  return refused;
}

async function read(work: string, measurand: "ph" | "oxygen" = "oxygen") {
  const reading = await findReading(use.bench.db, recordId(work, measurand));
  if (!reading) throw new Error("There is no such reading.");
  return { verdict: reading.verdict };
}

/** The calibrations of the oxygen sensor in their order. */
const calibrations = (): Promise<
  { work_id: string; finished_at: string; sensor_id: string; valid_until: string }[]
> =>
  use.bench
    .db("calibrations")
    .where({ measurand: "oxygen" })
    .orderBy("finished_at")
    .select("work_id", "finished_at", "sensor_id", "valid_until");

const inUse = async () => {
  const meter = await findMeter(use.bench.db, use.bench.pond.id);
  const channel = meter?.channels.find((c) => c.measurand === "oxygen");
  if (!channel) throw new Error("There is no such sensor.");
  return { id: channel.sensor_id, since: channel.sensor_since };
};

/** The bottles that the calibrations name for the oxygen sensor, in the order of their work. */
async function named(): Promise<(string | undefined)[]> {
  const { db } = use.bench;
  const uses: { work_id: string; lot_id: string }[] = await db("lot_uses").where({ role: "electrolyte" });
  return (await calibrations()).map((c) => uses.find((u) => u.work_id === c.work_id)?.lot_id);
}

const lot = (i: number): string => use.bench.lots[i]?.id ?? "";

describe("a change of membrane that was none", () => {
  it("is taken out: what it had ended holds again, and what was read since is as it would have been", async () => {
    const { db, pond } = use.bench;
    await calibratedPond(use.bench, at(8));
    const [before] = await calibrations();
    const first = await inUse();
    const entry = await done(10);
    const after = await pondReading(use.bench, water, at(11));
    expect((await read(after)).verdict).toBe("held");
    expect(await inUse()).toMatchObject({ since: "2026-04-12" });

    await out(entry, 12);
    expect((await read(after)).verdict).toBe("sound");
    expect(await calibrations()).toEqual([before]);
    expect(await inUse()).toEqual(first);
    expect((await dueList(db, at(12))).filter((d) => d.meter_id === pond.id && d.when === "now")).toEqual([]);
    expect((await read(await pondReading(use.bench, water, at(13)))).verdict).toBe("sound");
    expect(await serviceLog(db, pond.id, 9)).toMatchObject([
      {
        kind: "membrane-changed",
        measurand: "oxygen",
        taken_out: { at: at(12), by: "Noor", reason: "It was only cleaned." },
      },
    ]);
    // Pressed twice, nothing happens.
    const judgements = await db("reading_judgements").count({ n: "*" }).first();
    expect(await out(entry, 14)).toBeUndefined();
    expect(await db("reading_judgements").count({ n: "*" }).first()).toEqual(judgements);
    expect(await db("journal").where({ action: "service taken out" })).toHaveLength(1);
    expect(await verifyJournal(db)).toBeNull();
  });

  it("leaves what was calibrated since to the sensor that was there all the time, also what is still under way", async () => {
    await calibratedPond(use.bench, at(8));
    const { id } = await inUse();
    const entry = await done(9);
    await calibratedPond(use.bench, at(10));
    const fresh = await inUse();
    expect((await calibrations()).map((c) => c.sensor_id)).toEqual([id, fresh.id]);
    await out(entry, 11);
    // It is begun with what a page still shows that was opened before.
    await calibratedPond({ ...use.bench, pond: withSensor(fresh) }, at(12));
    expect((await calibrations()).map((c) => c.sensor_id)).toEqual([id, id, id]);
  });

  it("still leaves ended what a check ended before it or after", async () => {
    await calibratedPond(use.bench, at(8));
    const entry = await done(11);
    await checkedPond(use.bench, { ...right, oxygen: 60 }, at(13), "interim");
    await out(entry, 14);
    expect((await calibrations())[0]?.valid_until).toBe(at(13));
    const second = await done(15);
    await out(second, 16);
    expect((await calibrations())[0]?.valid_until).toBe(at(13));
  });

  it("is not taken out while what was read since is being judged by it", async () => {
    const { db, person } = use.bench;
    await calibratedPond(use.bench, at(8));
    const reading = await pondReading(use.bench, water, at(10));
    const entry = await done(11, { clock: "09:00" });
    const request = { kind: "service" as const, subject_id: entry };
    const job = await confirmRejudging(db, request, "sensor", person, at(12));
    expect(await out(entry, 13)).toMatch(/^What was read since is being judged anew\./);
    await runRejudging(db, job, at(13));
    expect((await read(reading)).verdict).toBe("held");
    expect(await out(entry, 14)).toBeUndefined();
    expect((await read(reading)).verdict).toBe("sound");
    expect((await read(reading, "ph")).verdict).toBe("sound");
    expect(await dueList(db, at(14))).not.toContainEqual(
      expect.objectContaining({ detail: "read after its sensor was changed" }),
    );
  });
});

/** The pond's meter as a page knew it that was opened while another sensor was thought to be in it. */
function withSensor({ id, since }: { id: string; since: string }) {
  const { pond } = use.bench;
  const channels = pond.channels.map((c) =>
    c.measurand === "oxygen" ? { ...c, sensor_id: id, sensor_since: since } : c,
  );
  return { ...pond, channels };
}

describe("a change of membrane that is written down after the calibration with it", () => {
  it("ends only what was calibrated before its time of day", async () => {
    await calibratedPond(use.bench, at(8));
    const first = await inUse();
    const between = await pondReading(use.bench, water, at(9, 30));
    await calibratedPond(use.bench, at(10));
    await done(11, { clock: "09:00" });
    const [old, fresh] = await calibrations();
    expect(old).toMatchObject({ sensor_id: first.id, valid_until: at(9) });
    expect(fresh).toMatchObject({ sensor_id: (await inUse()).id });
    expect(fresh?.valid_until && fresh.valid_until > at(11)).toBe(true);
    expect((await read(await pondReading(use.bench, water, at(12)))).verdict).toBe("sound");
    expect(await dueList(use.bench.db, at(12))).toContainEqual(
      expect.objectContaining({ detail: "read after its sensor was changed" }),
    );
    // Nobody has looked at it yet.
    expect((await read(between)).verdict).toBe("sound");
  });

  it("leaves the sensor in use that was put in last, whichever is written down last", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench, at(8));
    await done(14);
    const last = await inUse();
    await done(15, { clock: "10:00", code: "earlier" });
    expect(await inUse()).toEqual(last);
    await calibratedPond(use.bench, at(16));
    expect((await calibrations()).at(-1)?.sensor_id).toBe(last.id);
    expect(await db("sensors").where({ measurand: "oxygen" }).whereNull("retired_on")).toHaveLength(1);
  });
});

describe("a membrane that was renewed", () => {
  it("rests for half an hour: a calibration before that is qualified, unless the entry turns out to be wrong", async () => {
    const { db } = use.bench;
    const rested = async (minute: number) => {
      const work = await calibratedPond(use.bench, at(10, minute));
      const { packed, verdict } = await db("calibrations")
        .where({ work_id: work, measurand: "oxygen" })
        .first("packed", "verdict");
      const { findings } = unpack<{ findings: Finding[] }>(packed);
      return [verdict, findings.find((f) => f.rule === "rested")?.measured];
    };
    const entry = await done(10);
    expect(await rested(12)).toEqual(["qualified", "12 min after it was renewed"]);
    expect(await rested(30)).toEqual(["sound", "30 min after it was renewed"]);
    await out(entry, 11);
    expect(await rested(40)).toEqual(["sound", undefined]);
  });
});

describe("what a sensor was filled from", () => {
  it("is named by what was calibrated since, also when it is written down late, and no more when it is taken out", async () => {
    await done(6, { kind: "electrolyte-renewed", lot_id: lot(0) });
    await calibratedPond(use.bench, at(7));
    await calibratedPond(use.bench, at(9));
    await done(10, { kind: "electrolyte-renewed", lot_id: lot(1), clock: "08:00" });
    await calibratedPond(use.bench, at(11));
    expect(await named()).toEqual([lot(0), lot(1), lot(1)]);
    const unknown = await done(12, { kind: "electrolyte-renewed", clock: "10:30" });
    expect(await named()).toEqual([lot(0), lot(1), undefined]);
    await out(unknown, 13);
    expect(await named()).toEqual([lot(0), lot(1), lot(1)]);
    // A new sensor is not filled from the bottle of the one before.
    await done(14, { kind: "sensor-changed" });
    await calibratedPond(use.bench, at(15));
    expect(await named()).toEqual([lot(0), lot(1), lot(1), undefined]);
  });

  it("holds what was read through it when its bottle is withdrawn, until the entry turns out to be wrong", async () => {
    const { db, person, standard } = use.bench;
    await calibratedPond(use.bench, at(8));
    const reading = await pondReading(use.bench, water, at(9));
    const entry = await done(10, { kind: "electrolyte-renewed", lot_id: standard.id, clock: "07:00" });
    expect((await read(reading)).verdict).toBe("sound");
    const withdrawn = { on: "2026-04-12", reason: "cloudy", since: "2026-04-01" };
    await changeLot(db, standard.id, (l) => ({ ...l, withdrawn }), person, at(11), "cloudy");
    const request = { kind: "lot" as const, subject_id: standard.id };
    await runRejudging(db, await confirmRejudging(db, request, "cloudy", person, at(11)), at(11));
    expect((await read(reading)).verdict).toBe("held");
    await out(entry, 12);
    expect((await read(reading)).verdict).toBe("sound");
  });
});

describe("a day of changes", () => {
  const changes: [h: number, change: Partial<NewService>, lot: number | null][] = [
    [6, { kind: "electrolyte-renewed" }, 0],
    [9, { kind: "membrane-changed" }, 1],
    [11, { kind: "electrolyte-renewed" }, null],
    [13, { kind: "sensor-changed" }, null],
    [15, { kind: "membrane-changed" }, 2],
  ];

  /** What is known in the end, where changes are written down in an order: in time, or after everything else. */
  async function known(order: readonly number[], late: boolean, wrong: number | null) {
    const bench = await openTestBench();
    const { db, person, pond } = bench;
    const ids = new Map<number, string>();
    const write = async (i: number, hour: number) => {
      const [h = 0, change, of = null] = changes[i] ?? [];
      const clock = `${String(h).padStart(2, "0")}:30`;
      const lot_id = of === null ? null : (bench.lots[of]?.id ?? null);
      const entry = { measurand: "oxygen", on_date: "2026-04-12", code: "", note: "", clock, lot_id };
      const whole = { kind: "cleaned" as const, ...entry, ...change };
      ids.set(i, (await recordService(db, pond, whole, person, at(hour, 40))).id);
    };
    for (let h = 6; h < 18; h++) {
      if (h % 2 === 0) await calibratedPond(bench, at(h));
      if (!late) for (const [i, [at_h]] of changes.entries()) if (at_h === h) await write(i, h);
    }
    if (late) for (const i of order) await write(i, 19);
    if (wrong !== null) await takeServiceOut(db, ids.get(wrong) ?? "", "wrong", person, at(20));
    const sensors = await db("sensors").where({ measurand: "oxygen" }).orderBy("since");
    const uses = await db("lot_uses").where({ role: "electrolyte" });
    const made = await db("calibrations").where({ measurand: "oxygen" }).orderBy("finished_at");
    const told = {
      inUse: sensors.filter((s) => s.retired_on === null).map((s) => s.since),
      made: made.map((c) => [
        sensors.find((s) => s.id === c.sensor_id)?.since,
        bench.lots.findIndex((l) => uses.some((u) => u.work_id === c.work_id && u.lot_id === l.id)),
        c.valid_until,
      ]),
    };
    expect(await verifyJournal(db)).toBeNull();
    await db.destroy();
    return told;
  }

  it.each([null, 1, 3])(
    "leads to the same in whatever order it is written down, also without the entry %s",
    async (wrong) => {
      const inTime = await known([], false, wrong);
      expect(inTime.inUse).toEqual([at(15, 30)]);
      expect(new Set(inTime.made.map(([since]) => since)).size).toBe(wrong === null ? 4 : 3);
      for (const order of [
        [4, 3, 2, 1, 0],
        [2, 0, 4, 1, 3],
      ])
        expect(await known(order, true, wrong)).toEqual(inTime);
    },
  );
});

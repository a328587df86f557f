import { describe, expect, it } from "vitest";
import { calibrationValidUntil } from "../../../core/calibration/validity";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { dayBounds } from "../../../core/time/zone";
import { postEvents } from "../bench/bench.server";
import { loadCalibration } from "../calibrations/calibrationPage.server";
import { loadReading } from "../results/readingPage.server";
import { latestBySite } from "../results/readings.server";
import { changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { beginCalibration, beginReading, liveCapture, testNow, wholeRun } from "../testing/testBench";
import { dayRail } from "./day.server";
import { askOnce } from "./due.server";

const use = benchForEachTest();

const run = (work: string, signals: number[], at = testNow, temperature = 25) =>
  postEvents(
    use.bench.db,
    use.bench.person,
    work,
    wholeRun(
      use.bench,
      signals.map((mv) => liveCapture(mv, temperature)),
      at,
    ),
    at,
  );
const sound = [-4, -179.6, -131.5];
const due = async (at: string) =>
  (await dayRail(use.bench.db, at)).due
    .filter((d) => !d.title.endsWith("M-1"))
    .map((d) => [d.title, d.detail, d.when]);

describe("the bounds of a day", () => {
  it("are those of the zone, when the clocks change too", () => {
    expect(dayBounds("UTC").start("2026-04-12")).toBe("2026-04-12T00:00:00.000Z");
    const berlin = dayBounds("Europe/Berlin");
    expect([berlin.start("2026-03-29"), berlin.end("2026-03-29")]).toEqual([
      "2026-03-28T23:00:00.000Z",
      "2026-03-29T21:59:59.999Z",
    ]);
    expect(
      calibrationValidUntil("ph", "2026-03-29T05:00:00.000Z", {
        ...defaultHouseRules,
        zone: "Europe/Berlin",
      }),
    ).toBe(berlin.end("2026-03-29"));
  });
});

describe("what is due", () => {
  it("is a meter that was never calibrated, whose calibration failed, or whose day is over", async () => {
    expect(await due(testNow)).toEqual([["Calibrate P-2", "pH: never calibrated", "now"]]);
    await run(await beginCalibration(use.bench), [-4, 3, 0]);
    expect(await due(testNow)).toEqual([["Calibrate P-2", "pH: the last one failed", "now"]]);
    const later = "2026-04-12T09:00:00.000Z";
    await run(await beginCalibration(use.bench, later), sound, later);
    expect(await due(later)).toEqual([]);
    expect(await due("2026-04-13T07:00:00.000Z")).toEqual([
      ["Calibrate P-2", "pH: before its first reading", "now"],
    ]);
  });

  it("is a bottle that goes off within a week, as long as it may be used", async () => {
    await run(await beginCalibration(use.bench), sound);
    const lot = use.bench.lots[0];
    if (!lot) throw new Error("no lot");
    const change = (shelf_life_open_days: number) =>
      changeLot(
        use.bench.db,
        lot.id,
        (l) => ({ ...l, shelf_life_open_days }),
        use.bench.person,
        testNow,
        "read the label again",
      );
    await change(15);
    expect(await due(testNow)).toEqual([
      ["Technical 7.00, L-technical-7", "good until Thu 16 Apr", "16 Apr"],
    ]);
    await change(11);
    expect(await due(testNow)).toEqual([["Technical 7.00, L-technical-7", "good until Sun 12 Apr", "today"]]);
    await change(10);
    expect(await due(testNow)).toEqual([]);
  });
});

describe("what happened", () => {
  it("stands in the order of time, with its verdict, and leaves yesterday out", async () => {
    const yesterday = "2026-04-11T09:00:00.000Z";
    await run(await beginCalibration(use.bench, yesterday), sound, yesterday);
    await run(await beginCalibration(use.bench), sound);
    const at = "2026-04-12T08:30:00.000Z";
    await run(await beginReading(use.bench, "BP", at), [-62, -62.4], at, 15);
    const apart = "2026-04-12T08:40:00.000Z";
    await run(await beginReading(use.bench, "BP-2", apart), [-20, -50, -80], apart, 15);
    const { happened } = await dayRail(use.bench.db, apart);
    expect(happened.map((e) => [e.title, e.verdict])).toEqual([
      ["P-2 calibrated", "sound"],
      ["Bathing pond", "sound"],
      ["Bathing pond", "held"],
    ]);
    expect(happened[2]?.detail).toBe("pH: no two agree");
    expect((await latestBySite(use.bench.db)).get(use.bench.site.id)?.[0]?.sample).toBe("BP-2");
  });
});

describe("what a page shows", () => {
  it("of a calibration: its slopes up to itself, its events, and its judgement", async () => {
    const first = await beginCalibration(use.bench);
    await run(first, sound);
    const later = "2026-04-13T08:00:00.000Z";
    const second = await beginCalibration(use.bench, later);
    await run(second, sound, later);
    const page = await loadCalibration(use.bench.db, first, use.bench.person);
    expect(page.trends[0]?.trend.history).toHaveLength(1);
    expect(page.events).toHaveLength(11);
    expect(page.finished[0]?.verdict).toBe("sound");
    expect(
      (await loadCalibration(use.bench.db, second, use.bench.person)).trends[0]?.trend.history,
    ).toHaveLength(2);
  });

  it("of a reading: its events and every judgement of it", async () => {
    await run(await beginCalibration(use.bench), sound);
    const work = await beginReading(use.bench);
    expect(
      (await loadReading(use.bench.db, work, use.bench.person, askOnce(use.bench.db, testNow))).finished,
    ).toEqual([]);
    await run(work, [-62, -62.4], testNow, 15);
    const page = await loadReading(use.bench.db, work, use.bench.person, askOnce(use.bench.db, testNow));
    expect(page.judgements.map((j) => [j.seq, j.verdict, j.cause])).toEqual([
      [1, "sound", "first judgement"],
    ]);
    expect(page.finished[0]?.temperature_c).toBe(15);
  });

  it("of one under the other's address, or of none, is nothing", async () => {
    const work = await beginCalibration(use.bench);
    await expect(
      loadReading(use.bench.db, work, use.bench.person, askOnce(use.bench.db, testNow)),
    ).rejects.toMatchObject({
      status: 404,
    });
    await expect(loadCalibration(use.bench.db, "none", use.bench.person)).rejects.toMatchObject({
      status: 404,
    });
  });
});

import { describe, expect, it } from "vitest";
import { addSite } from "../sites/sites.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, phReading, testNow } from "../testing/testBench";
import { loadDay } from "./dayPage.server";

const use = benchForEachTest();
const seen = async (now: string) => {
  const { waters } = await loadDay(use.bench.db, now, async () => []);
  const [water] = waters.filter((w) => w.readings.length > 0);
  return { today: water?.today, days_old: water?.readings[0]?.days_old };
};

describe("how old a value is", () => {
  it("is counted in days of the calendar, not in hours", async () => {
    await calibratedPh(use.bench);
    await phReading(use.bench, -62);
    const measured = (await use.bench.db("readings").first("measured_at")).measured_at as string;
    const midnight = `${measured.slice(0, 10)}T23:59:59.000Z`;
    const after = new Date(Date.parse(midnight) + 2000).toISOString();
    expect(await seen(midnight)).toEqual({ today: true, days_old: 0 });
    expect(await seen(after)).toEqual({ today: false, days_old: 1 });
  });
});

describe("the waters of the day", () => {
  it("are the twenty that were read last, in the order of the water; the others are counted", async () => {
    await calibratedPh(use.bench);
    await phReading(use.bench, -62);
    const { id, water, altitude_m } = use.bench.site;
    const range = { ph_low: 7, ph_high: 8, conductivity_low: null, conductivity_high: null };
    for (let i = 0; i < 24; i++)
      await addSite(
        use.bench.db,
        { ...range, water, altitude_m, name: `Pond ${i}` },
        use.bench.person,
        testNow,
      );
    const { waters, sites, readToday } = await loadDay(use.bench.db, testNow, async () => []);
    expect({ shown: waters.length, sites, readToday }).toEqual({ shown: 20, sites: 25, readToday: 1 });
    const read = waters.filter((w) => w.readings.length > 0);
    expect(read.map((w) => w.id)).toEqual([id]);
    expect(read[0]?.readings[0]).toMatchObject({ parameter: "ph", verdict: "sound", days_old: 0 });
  });

  it("say nothing of a quantity that only laboratories measure, and do not count as read by it", async () => {
    await calibratedPh(use.bench);
    await phReading(use.bench, -62);
    await use.bench.db("readings").update({ source: "laboratory" });
    const { waters, readToday } = await loadDay(use.bench.db, testNow, async () => []);
    expect(waters.map((w) => [w.readings.length, w.newest, w.today])).toEqual([[0, null, false]]);
    expect(readToday).toBe(0);
  });

  it("leave out a value that was taken out", async () => {
    await calibratedPh(use.bench);
    await phReading(use.bench, -62);
    await use.bench.db("readings").update({ verdict: "void" });
    const { waters } = await loadDay(use.bench.db, testNow, async () => []);
    expect(waters.map((w) => [w.readings.length, w.newest])).toEqual([[0, null]]);
  });
});

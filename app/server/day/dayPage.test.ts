import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, phReading } from "../testing/testBench";
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

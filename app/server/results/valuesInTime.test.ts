import { describe, expect, it } from "vitest";
import { dayBounds } from "../../../core/time/zone";
import { voidResults } from "../bench/void.server";
import { chooseLimitSets } from "../sites/sites.server";
import { smallTrends } from "../sites/trends.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { fillWithReadings } from "../testing/manyReadings";
import { calibratedPh, phReading, testNow } from "../testing/testBench";
import { ledgerQuerySchema } from "./ledger.server";
import { valuesInTime } from "./valuesInTime.server";

const use = benchForEachTest();
const draw = (asked: Record<string, string>) =>
  valuesInTime(use.bench.db, ledgerQuerySchema.parse(asked), dayBounds("UTC"));

/** One pH reading and copies of it over the days that follow. */
async function season(copies: number): Promise<string> {
  await calibratedPh(use.bench);
  const work = await phReading(use.bench, -62);
  await fillWithReadings(
    use.bench.db,
    `${work}-ph`,
    copies,
    "2026-04-13T00:00:00.000Z",
    "2026-05-12T00:00:00.000Z",
  );
  return work;
}

describe("values in time", () => {
  it("are not drawn while it is open what was measured, or where nothing was", async () => {
    await season(2);
    expect(await draw({})).toBeNull();
    expect(await draw({ parameter: "oxygen" })).toBeNull();
    expect(await draw({ parameter: "ph", from: "2027-01-01" })).toBeNull();
  });

  it("are the newest thousand, oldest first, and it is said that there are more", async () => {
    await season(1005);
    const drawn = await draw({ parameter: "ph" });
    expect(drawn?.points).toHaveLength(1000);
    expect(drawn?.more).toBe(true);
    const moments = drawn?.points.map((p) => p.measured_at) ?? [];
    expect(moments).toEqual([...moments].sort());
    expect(moments.at(-1)).toBe("2026-05-12T00:00:00.000Z");
  });

  it("stand over what the site expects and what its limits ask, in the unit of the values", async () => {
    await season(2);
    const { db, person, site } = use.bench;
    await chooseLimitSets(db, site.id, ["secondary"], person, testNow);
    expect(await draw({ parameter: "ph", site: site.id })).toMatchObject({
      usual: site.expected.ph,
      limits: [{ name: "Taste and pipes", low: 6.5, high: 8.5 }],
    });
    expect(await draw({ parameter: "ph" })).toMatchObject({ usual: null, limits: [] });
  });
});

describe("small lines", () => {
  const lines = () => smallTrends(use.bench.db, "2026-04-01T00:00:00.000Z");

  it("hold the newest values of each quantity and no more than a line can show", async () => {
    await season(60);
    const [line, ...others] = await lines();
    expect(others).toEqual([]);
    expect(line).toMatchObject({ site_id: use.bench.site.id, parameter: "ph", analyte: "pH" });
    expect(line?.points).toHaveLength(24);
    expect(line?.points.at(-1)?.[0]).toBe(Date.parse("2026-05-12T00:00:00.000Z"));
  });

  it("leave out what was taken out", async () => {
    const work = await season(0);
    expect((await lines())[0]?.points).toHaveLength(1);
    await voidResults(use.bench.db, use.bench.person, work, "the probe lay dry", testNow);
    expect(await lines()).toEqual([]);
  });
});

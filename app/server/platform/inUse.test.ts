import { describe, expect, it } from "vitest";
import { allMeters, findMeter, metersInUse, meterToUse } from "../meters/meters.server";
import { allSites, sitesInUse } from "../sites/sites.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { beginCalibration, testNow } from "../testing/testBench";
import { takeIntoUse, takeOutOfUse } from "./inUse.server";

const use = benchForEachTest();

describe("what is used no more", () => {
  it("says who said so, when and why, until it is used again", async () => {
    const { db, person, meter, site } = use.bench;
    const out = { at: testNow, by: "Noor", reason: "cracked" };
    expect(await takeOutOfUse(db, "meters", meter.id, "cracked", person, testNow)).toBeNull();
    expect(await takeOutOfUse(db, "sites", site.id, "cracked", person, testNow)).toBeNull();
    expect((await findMeter(db, meter.id))?.out_of_use).toEqual(out);
    expect((await metersInUse(db)).map((m) => m.code)).toEqual(["M-1"]);
    expect((await allMeters(db)).map((m) => m.code)).toEqual(["M-1", "P-2"]);
    expect([await sitesInUse(db), (await allSites(db)).map((s) => s.out_of_use)]).toEqual([[], [out]]);
    await expect(meterToUse(db, meter.id)).rejects.toMatchObject({ init: { status: 409 } });
    await takeIntoUse(db, "meters", meter.id, person, testNow);
    expect((await meterToUse(db, meter.id)).code).toBe("P-2");
  });

  it("is nothing that something is under way with, and nothing that was never registered", async () => {
    const { db, person, meter } = use.bench;
    await beginCalibration(use.bench);
    const refused = await takeOutOfUse(db, "meters", meter.id, "cracked", person, testNow);
    expect(refused).toBe("Something is under way with this meter. Finish it or give it up first.");
    expect((await findMeter(db, meter.id))?.out_of_use).toBeNull();
    await expect(takeOutOfUse(db, "sites", "none", "x", person, testNow)).rejects.toMatchObject({
      status: 404,
    });
  });

  it("is not for those who only look", async () => {
    const { db, meter } = use.bench;
    const looks = { id: "x", name: "Wren", role: "read-only" as const };
    await expect(takeOutOfUse(db, "meters", meter.id, "x", looks, testNow)).rejects.toThrow("you may look");
    await expect(takeIntoUse(db, "meters", meter.id, looks, testNow)).rejects.toThrow("you may look");
  });
});

import { describe, expect, it } from "vitest";
import { findMeter } from "../../app/server/meters/meters.server";
import { confirmRejudging } from "../../app/server/results/rejudge.server";
import { runRejudging } from "../../app/server/results/rejudgeRun.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPond, pondReading } from "../../app/server/testing/testBench";
import { makeSolution, salt } from "./makeSolution";
import { Visitor } from "./pages";

const hands = benchForEachTest("own");
const visitor = () => new Visitor(hands.bench);
const idOf = async (code: string): Promise<string> =>
  (await hands.bench.db("lots").where({ code }).first("id")).id;
const later = (minutes: number) => new Date(Date.now() + minutes * 60_000).toISOString();

const filled = (fields: Record<string, string> = {}) =>
  visitor().send(`/meters/${hands.bench.pond.id}`, {
    kind: "electrolyte-renewed",
    measurand: "oxygen",
    on_date: new Date().toISOString().slice(0, 10),
    lot: "EL-1",
    ...fields,
  });

describe("electrolyte of one's own", () => {
  it("is filled in by its code, named by what is measured through it, and judged anew with its salt", async () => {
    const { db, person } = hands.bench;
    await visitor().send("/stock/new", {
      ...salt,
      code: "KCL-1",
      name: "Potassium chloride",
      formula: "KCl",
    });
    await makeSolution(hands.bench, "electrolyte", { "from-salt": "KCL-1", volume_ml: "100" }, "EL-1");
    expect((await filled({ lot: "EL-9" })).text).toContain("No bottle EL-9 is on the shelf.");
    expect((await filled()).status).toBe(200);
    expect((await visitor().open(`/meters/${hands.bench.pond.id}`)).text).toContain("from bottle EL-1");
    // The sensor of the meter as it is now.
    const pond = await findMeter(db, hands.bench.pond.id);
    if (!pond) throw new Error("The meter is gone.");
    const own = { ...hands.bench, pond };
    await calibratedPond(own, later(1));
    const reading = await pondReading(own, { conductivity: 600, ph: -62, oxygen: 85 }, later(2));
    const page = await visitor().open(`/readings/${reading}?of=oxygen`);
    expect(page.text).toContain("Electrolyte, Membrane electrolyte, 75 g/L potassium chloride EL-1");
    expect(page.text).toContain("EL-1 rests on KCL-1 Potassium chloride");
    expect((await visitor().open(`/readings/${reading}?of=ph`)).text).not.toContain("EL-1 rests on");

    const subject_id = await idOf("KCL-1");
    await visitor().send(`/stock/${subject_id}`, { do: "withdraw", reason: "damp", since: "2026-01-01" });
    const job = await confirmRejudging(db, { kind: "lot", subject_id }, "damp", person, later(3));
    await runRejudging(db, job, later(3));
    const held = await db("readings")
      .where({ verdict: "held" })
      .where("findings", "like", "%filled from EL-1%")
      .orderBy("parameter")
      .select("parameter");
    // What derives from oxygen goes with it.
    expect(held.map((r) => r.parameter)).toEqual(["oxygen", "oxygen-saturation"]);
    const late = await pondReading(own, { conductivity: 600, ph: -62, oxygen: 85 }, later(4));
    const row = await db("readings").where({ work_id: late, parameter: "oxygen" }).first("findings");
    expect(row.findings).toContain("The sensor was filled from EL-1.");
    expect((await filled({ lot: "EL-1" })).status).toBe(200);
    await visitor().send(`/stock/${await idOf("EL-1")}`, {
      do: "withdraw",
      reason: "cloudy",
      since: "2026-01-01",
    });
    expect((await filled({ lot: "EL-1" })).text).toContain("EL-1 was withdrawn. Take another.");
  });
});

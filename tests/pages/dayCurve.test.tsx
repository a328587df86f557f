import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { confirmRejudging } from "../../app/server/results/rejudge.server";
import { previewRejudging } from "../../app/server/results/rejudgeChanges.server";
import { runRejudging } from "../../app/server/results/rejudgeRun.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { makeSolution, salt } from "./makeSolution";
import { Visitor } from "./pages";
import { runWith } from "./runWith";

const hands = benchForEachTest("own");
const visitor = () => new Visitor(hands.bench);
const idOf = async (code: string): Promise<string> =>
  (await hands.bench.db("lots").where({ code }).first("id")).id;
const hour = 3_600_000;
const curve = "0 0.003\n0.5 0.213\n1 0.423\n2 0.843";

/** A nitrate run by a curve of the day, made from a bottle. */
const byCurve = (fields: Record<string, string> = {}, later_ms = 0) =>
  runWith(hands.bench, "nitrate-curve", { "lot-reduction": "V-1", ...fields }, 0.8, later_ms);

beforeEach(async () => {
  const chemical = { ...salt, code: "KNO3-1", name: "Potassium nitrate", formula: "KNO3" };
  await visitor().send("/stock/new", chemical);
  await visitor().send("/stock/new", {
    ...salt,
    kind: "reagent",
    code: "V-1",
    name: "Vanadium(III) reagent",
    serves: "Vanadium(III) reduction and coupling reagent",
    formula: "",
    purity_percent: "",
    unit: "mL",
  });
  await makeSolution(hands.bench, "nitrate-stock", { "from-salt": "KNO3-1" }, "NS-1");
  await makeSolution(hands.bench, "nitrate-working", { "from-stock": "NS-1", volume_ml: "100" }, "NW-1");
});

afterEach(() => {
  vi.useRealTimers();
});

describe("a nitrate result by a curve of the day", () => {
  it("names the standard down through two preparations to the salt, and is judged anew with any of them", async () => {
    const { db, person } = hands.bench;
    const own = await byCurve();
    const drawn = await byCurve({ curve, "lot-standard": "nw-1" }, hour);
    expect(drawn.reading.value).toBeCloseTo(0.8, 1);
    const down = "NW-1 rests on NS-1 Nitrate stock, 100 mg/L as N KNO3-1 Potassium nitrate";
    for (const page of [`/runs/${drawn.work}`, `/ledger?reading=${drawn.reading.id}`])
      expect((await visitor().open(page)).text).toContain(down);
    expect((await visitor().open(`/runs/${own.work}`)).text).not.toContain("NW-1 rests on");

    const subject_id = await idOf("KNO3-1");
    await visitor().send(`/stock/${subject_id}`, { do: "withdraw", reason: "damp", since: "2026-01-01" });
    const preview = await previewRejudging(db, { kind: "lot", subject_id });
    expect(preview.examples.map((e) => e.id)).toEqual([drawn.reading.id]);
    const now = new Date(Date.now() + 2 * hour).toISOString();
    await runRejudging(db, await confirmRejudging(db, { kind: "lot", subject_id }, "damp", person, now), now);
    const { verdict } = await db("readings").where({ id: drawn.reading.id }).first("verdict");
    expect(verdict).toBe("held");
    const late = await byCurve({ curve, "lot-standard": "NW-1" }, 3 * hour);
    expect(JSON.stringify(late.findings)).toContain("Rests on lot KNO3-1");
  });

  it("takes of the standard once for a curve, however many runs of the shift read by it", async () => {
    const used = async () =>
      Number((await hands.bench.db("lots").where({ code: "NW-1" }).first("used")).used);
    await byCurve({ curve, "lot-standard": "NW-1" });
    expect(await used()).toBe(40);
    const next = await visitor().open("/runs/new/nitrate-curve");
    expect(next.text).toContain("0.5 0.213");
    await byCurve({ curve, "lot-standard": "NW-1" }, hour);
    expect(await used()).toBe(40);
    await byCurve({ curve: `${curve}\n1.5 0.63`, "lot-standard": "NW-1" }, 2 * hour);
    expect(await used()).toBe(80);
    expect(await hands.bench.db("lot_uses").where({ slot: "standard" })).toHaveLength(3);
  });

  it("serves one shift from when it was drawn, however many runs were read by it since", async () => {
    const morning = Date.parse("2026-04-12T08:00:00.000Z");
    const at = (hours: number) => vi.useFakeTimers({ now: morning + hours * hour, toFake: ["Date"] });
    at(0);
    await byCurve({ curve, "lot-standard": "NW-1" });
    at(10);
    expect((await visitor().open("/runs/new/nitrate-curve")).text).toContain("0.5 0.213");
    const stood = await byCurve({ curve, "lot-standard": "NW-1" });
    expect(stood.started).toMatchObject({ curve_stood: true, curve_drawn_at: "2026-04-12T08:00:00.000Z" });
    at(13);
    expect((await visitor().open("/runs/new/nitrate-curve")).text).not.toContain("0.5 0.213");
    // A page that has been open since the morning sends it all the same.
    const late = byCurve({ curve, "lot-standard": "NW-1" });
    await expect(late).rejects.toThrow("These are the readings of 12 Apr, 08:00. A curve serves one shift");
    const again = await byCurve({ curve: `${curve}\n1.5 0.631`, "lot-standard": "NW-1" });
    expect(again.started).toMatchObject({ curve_stood: false });
    expect(again.started.curve_drawn_at).toBeUndefined();
  });

  it("is qualified while nobody says what its standards were made from", async () => {
    const { findings } = await byCurve({ curve });
    expect(JSON.stringify(findings)).toContain("no lot of Nitrate standard");
    const { findings: own } = await byCurve();
    expect(JSON.stringify(own)).not.toContain("no lot of");
  });

  it.each([
    [
      "a standard stronger than its bottle",
      { curve: "0 0.003\n5 2.1\n12 5.04", "lot-standard": "NW-1" },
      "A standard of 12 mg/L NO3-N cannot be made from this bottle, which holds",
    ],
    [
      "the reagent's bottle",
      { curve, "lot-standard": "V-1" },
      "On the shelf, V-1 is Vanadium(III) reagent. Look at the bottle again",
    ],
  ])("refuses %s in words, at the bottle", async (_what, fields, sentence) => {
    await expect(byCurve(fields)).rejects.toThrow(sentence);
  });
});

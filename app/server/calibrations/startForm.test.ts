import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { addLot, changeLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPond, testLot, testNow } from "../testing/testBench";
import { chosenAtStart, proposeStart, readStartForm } from "./startForm.server";

const use = benchForEachTest();

/** A start form as the page sends it: steps as measurand|role|lot, and the air where oxygen is among them. */
function form(stations: string[], fields: Record<string, string> = {}): FormData {
  const data = new FormData();
  for (const [name, value] of Object.entries({ work: ulid(), event: ulid(), ...fields }))
    data.set(name, value);
  for (const station of stations) data.append("station", station);
  return data;
}
const air = { pressure: "998,5", pressure_kind: "station", altitude: "148 m" };
const lotId = (n: number) => use.bench.lots[n]?.id ?? "";
const read = (data: FormData, meter = use.bench.meter) => readStartForm(use.bench.db, meter, data, testNow);
const errorsOf = async (data: FormData, meter = use.bench.meter) => {
  const answer = await read(data, meter);
  return "errors" in answer ? answer.errors : {};
};

describe("the form that starts a calibration", () => {
  it("gives the steps with their bottles, and leaves out what was left out", async () => {
    const answer = await read(form([`ph|point|${lotId(0)}`, `ph|point|${lotId(1)}`, "ph|check|leave-out"]));
    if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
    expect(answer.start.chosen.map((c) => [c.role, c.stored?.lot.code])).toEqual([
      ["point", "L-technical-7"],
      ["point", "L-technical-10"],
    ]);
    expect(answer.start.conditions).toBeNull();
  });

  it.each<[string, () => string[], string]>([
    ["no steps", () => [], "Choose what to calibrate"],
    ["one buffer", () => [`ph|point|${lotId(0)}`], "at least two buffers"],
    [
      "one bottle twice",
      () => [`ph|point|${lotId(0)}`, `ph|point|${lotId(1)}`, `ph|check|${lotId(1)}`],
      "used once",
    ],
    ["a step without its bottle", () => ["ph|point|", `ph|point|${lotId(1)}`], "a bottle for every step"],
    ["a bottle that is gone", () => [`ph|point|nowhere`, `ph|point|${lotId(1)}`], "is gone"],
    [
      "a standard of another kind",
      () => [`ph|point|${use.bench.standard.id}`, `ph|point|${lotId(1)}`],
      "not a standard for this step",
    ],
    ["what the meter does not measure", () => ["oxygen|span|"], "does not measure that"],
  ])("refuses %s, in words", async (_what, stations, words) => {
    expect((await errorsOf(form(stations(), air))).form).toContain(words);
  });

  it("asks why a lot past its date is used, and never takes a withdrawn one", async () => {
    const { db, person } = use.bench;
    const old = await addLot(
      db,
      testLot("ph-buffer", "technical-4", Number.NaN, { expires_on: "2026-02-01" }),
      person,
      testNow,
    );
    const steps = [`ph|point|${old?.id}`, `ph|point|${lotId(1)}`];
    expect((await errorsOf(form(steps))).form).toContain("past its date. Say why");
    expect(await errorsOf(form(steps, { reason: "Nothing else at hand." }))).toEqual({});
    const withdrawn = { on: "2026-04-01", since: "2026-04-01", reason: "Cloudy." };
    await changeLot(db, old?.id ?? "", (l) => ({ ...l, withdrawn }), person, testNow, "Cloudy.");
    expect((await errorsOf(form(steps, { reason: "x" }))).form).toContain("withdrawn and cannot be used");
  });

  it("understands the air as it is typed, and says where it does not", async () => {
    const answer = await read(form(["oxygen|span|"], { ...air, salinity: "1,5" }), use.bench.pond);
    if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
    expect(answer.start.conditions).toEqual({
      pressure_hpa: 998.5,
      pressure_typed_hpa: 998.5,
      pressure_kind: "station",
      altitude_m: 148,
      salinity: 1.5,
      salinity_known: true,
    });
    const kilo = await read(form(["oxygen|span|"], { ...air, pressure: "99.85 kPa" }), use.bench.pond);
    expect("start" in kilo && kilo.start.conditions?.pressure_hpa).toBeCloseTo(998.5, 9);
    const bad = await errorsOf(
      form(["oxygen|span|"], { pressure: "low", altitude: "", salinity: "90" }),
      use.bench.pond,
    );
    expect(Object.keys(bad).sort()).toEqual(["altitude", "pressure", "salinity"]);
  });

  it("does not begin with a weather report's pressure taken for the station's", async () => {
    const slip = { pressure: "1015", pressure_kind: "station", altitude: "600" };
    expect((await errorsOf(form(["oxygen|span|"], slip), use.bench.pond)).pressure).toMatch(
      /\+7\.\d % of every oxygen reading/,
    );
    const said = await read(form(["oxygen|span|"], { ...slip, pressure_kind: "sea-level" }), use.bench.pond);
    expect("start" in said && said.start.conditions?.pressure_hpa).toBeCloseTo(944.8, 0);
  });
});

describe("what the start of a calibration proposes", () => {
  it("is every measurand of the meter, what is weak first, with the altitude of the sites", async () => {
    const { db, pond } = use.bench;
    const proposed = await proposeStart(db, pond, "calibration", testNow);
    expect(proposed.proposals.map((p) => p.measurand)).toEqual(["conductivity", "ph", "oxygen"]);
    expect(proposed.altitude_m).toBe(148);
    expect(chosenAtStart(null, proposed.proposals)).toEqual(["conductivity", "ph", "oxygen"]);
    expect(chosenAtStart("oxygen,nonsense", proposed.proposals)).toEqual(["oxygen"]);
    expect(proposed.proposals[2]?.sentence).toContain("zero was never measured");
  });
  it("remembers the zero once it was measured", async () => {
    await calibratedPond(use.bench);
    const proposed = await proposeStart(
      use.bench.db,
      use.bench.pond,
      "calibration",
      "2026-04-14T08:00:00.000Z",
    );
    expect(proposed.proposals[2]?.stations.map((s) => s.role)).toEqual(["span"]);
    expect(proposed.proposals[2]?.sentence).toContain("Zero measured 2 days ago");
  });
  it("of a check is one standard for each", async () => {
    const proposed = await proposeStart(use.bench.db, use.bench.pond, "check", testNow);
    expect(proposed.proposals.map((p) => p.stations.map((s) => s.role))).toEqual([
      ["check"],
      ["check"],
      ["span"],
    ]);
  });
});

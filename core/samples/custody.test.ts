import { describe, expect, it } from "vitest";
import type { NewEvent } from "../bench/event";
import { replay } from "../bench/event";
import { awaited, custodyFolding, custodyStep, holderOf } from "./custody";
import { custodyFile, custodyJsonSchema } from "./custodyDocument";
import { type CustodyEvent, type CustodySample, custodyEventSchema } from "./custodyEvents";
import { custodyFindings, custodyGaps } from "./custodyFindings";
import { custodyPaper } from "./custodyPaper";

const day = (time: string, date = 12) => `2026-04-${date}T${time}:00.000Z`;
const id = (n: number) => `01KP0000000000000000000${String(n).padStart(3, "0")}`;

const sample = (n: number, over: Partial<CustodySample> = {}): CustodySample => ({
  id: id(n),
  code: `E1-0412-${n}`,
  site_id: "e1",
  site: "Feed borehole E1",
  water: "borehole",
  bottle: "General, nothing added",
  collected_at: day("09:00"),
  keeps_until: day("09:00", 13),
  preservative: null,
  filtered: null,
  arrives_c: 6,
  tests: [{ parameter: "chloride", name: "Chloride" }],
  ...over,
});
const samples = [
  sample(1, { keeps_until: day("09:00", 14), tests: [{ parameter: "nitrate", name: "Nitrate" }] }),
  sample(2, { arrives_c: 10, tests: [{ parameter: "e-coli", name: "E. coli" }] }),
];

type Step = [time: string, happening: NewEvent<CustodyEvent>];
const hop = (from: string, to: string, over: object = {}) => ({
  type: "handed-over" as const,
  from,
  to,
  temperature_c: 4,
  seal: "intact" as const,
  ...over,
});
const fold = (...steps: Step[]) => {
  const started: CustodyEvent = {
    id: id(900),
    at: day("10:00"),
    by: "p1",
    type: "started",
    batch: { laboratory: "Marsh Lane Laboratory", programme: "", contact: "", notes: "", holder: "Noor" },
    samples,
  };
  const events = steps.map(([time, happening], i): CustodyEvent => {
    const at = day(time);
    const timed =
      happening.type === "handed-over" || happening.type === "received"
        ? { ...happening, happened_at: happening.happened_at ?? at }
        : happening;
    return custodyEventSchema.parse({ id: id(901 + i), at, by: "p1", ...timed });
  });
  const result = replay([started, ...events], custodyFolding);
  if (!result.state) throw new Error("No batch.");
  return { ...result, state: result.state };
};
const received = (over: object = {}) => ({
  ...hop("Courier", "M. Ash"),
  type: "received" as const,
  absent: [],
  ...over,
});
const handed = (from: string, to: string, over: object = {}) =>
  hop(from, to, over) as unknown as NewEvent<CustodyEvent>;
const came = (over: object = {}) => received(over) as unknown as NewEvent<CustodyEvent>;
const rulesOf = (state: ReturnType<typeof fold>["state"], n: number) =>
  custodyFindings(state, id(n), "UTC").map((f) => f.rule);

describe("a batch of samples", () => {
  it("puts what keeps least first, and asks for ice, the hand-over, the results, and to be closed", () => {
    const fresh = fold();
    expect(fresh.state.samples.map((s) => s.code)).toEqual(["E1-0412-2", "E1-0412-1"]);
    expect(custodyStep(fresh.state)).toBe("ice");
    const cold = fold(["10:05", { type: "cooled", fresh_ice: true, temperature_c: 3 }]);
    expect(custodyStep(cold.state)).toBe("hand-over");
    const there = fold(["10:10", handed("Noor", "Courier")], ["12:00", came()]);
    expect(holderOf(there.state)).toBe("M. Ash");
    expect(custodyStep(there.state)).toBe("results");
    expect(awaited(there.state).map((a) => a.test.parameter)).toEqual(["e-coli", "nitrate"]);
    expect(custodyStep(fold(["10:10", { type: "abandoned", reason: "Rain." }]).state)).toBe("over");
  });

  it("is a closed chain where each who gives was given, however they wrote the name", () => {
    const { state } = fold(["10:10", handed(" noor ", "Courier")], ["12:00", came()]);
    expect(custodyGaps(state)).toEqual([]);
    expect(rulesOf(state, 1)).toEqual([]);
  });

  it("shows its gap: given to one and given on by another", () => {
    const { state } = fold(["10:10", handed("Noor", "Ada")], ["12:00", came({ from: "Bo" })]);
    expect(custodyGaps(state)).toEqual([
      { after: day("10:10"), holder: "Ada", before: day("12:00"), giver: "Bo" },
    ]);
    const [found] = custodyFindings(state, id(1), "UTC");
    expect(found?.sentence).toContain("12 Apr");
    expect(found?.sentence).toContain("from Ada to Bo");
  });

  it("closes the gap when the hand-over between is written down later, in its place", () => {
    const { state } = fold(
      ["10:10", handed("Noor", "Ada")],
      ["12:00", came({ from: "Bo" })],
      ["13:00", handed("Ada", "Bo", { happened_at: day("11:00") })],
    );
    expect(state.handovers.map((h) => h.to)).toEqual(["Ada", "Bo", "M. Ash"]);
    expect(custodyGaps(state)).toEqual([]);
  });

  it.each([
    [6, 1, []],
    [6.1, 1, ["warm-on-arrival"]],
    [9.9, 2, []],
    [10.1, 2, ["warm-on-arrival"]],
    [null, 1, ["arrival-not-measured"]],
  ])("received at %s °C, sample %i: %j", (temperature_c, n, expected) => {
    const { state } = fold(["10:10", handed("Noor", "Courier")], ["12:00", came({ temperature_c })]);
    expect(rulesOf(state, n)).toEqual(expected);
  });

  it("names a broken seal, and a bottle that did not arrive", () => {
    const { state } = fold(
      ["10:10", handed("Noor", "Courier")],
      ["12:00", came({ seal: "broken", absent: [id(1)] })],
    );
    expect(rulesOf(state, 1)).toEqual(["seal-broken", "not-arrived"]);
    expect(rulesOf(state, 2)).toEqual(["seal-broken"]);
  });

  it("refuses what cannot be: received twice, given on after that, in the future, a strange bottle missing", () => {
    const refusedBy = (...steps: Step[]) => fold(...steps).refused.map((r) => r.code);
    const there: Step[] = [["12:00", came()]];
    expect(refusedBy(...there, ["12:30", came()])).toEqual(["received"]);
    expect(refusedBy(...there, ["12:30", handed("M. Ash", "Eve")])).toEqual(["received"]);
    expect(refusedBy(["11:00", handed("Noor", "Ada", { happened_at: day("11:30") })])).toEqual([
      "in-the-future",
    ]);
    expect(
      refusedBy(["11:00", handed("Noor", "Ada")], ["12:00", came({ happened_at: day("10:30") })]),
    ).toEqual(["before-handover"]);
    expect(refusedBy(["12:00", came({ absent: [id(7)] })])).toEqual(["no-such-sample"]);
  });

  it("knows which tests were added after it had left, and refuses one that is asked for already", () => {
    const chloride = { parameter: "chloride", name: "Chloride" };
    const { state, refused } = fold(
      ["10:10", handed("Noor", "Courier")],
      ["10:20", { type: "test-added", sample_id: id(1), test: chloride }],
      ["10:21", { type: "test-added", sample_id: id(1), test: chloride }],
    );
    expect(state.samples.find((s) => s.id === id(1))?.added).toEqual([chloride]);
    expect(refused.map((r) => r.code)).toEqual(["asked-already"]);
  });

  it("takes results also without a receipt, and says so; a newer one of the same test replaces the older", () => {
    const result = (value: number, line: number) => ({
      type: "results" as const,
      file: { name: "a.csv", sha256: "0".repeat(64) },
      results: [
        {
          sample_id: id(1),
          parameter: "nitrate",
          analyte: "Nitrate",
          species: "NO3-N",
          unit: "mg/L",
          decimals: 2,
          found: { kind: "value" as const, value },
          written: String(value),
          written_unit: "mg/L",
          method: null,
          detection_limit: null,
          measured_at: null,
          line,
        },
      ],
    });
    const { state } = fold(["12:00", result(2, 2)], ["13:00", result(2.4, 3)]);
    expect(state.results.map((r) => r.found)).toEqual([{ kind: "value", value: 2.4 }]);
    expect(rulesOf(state, 1)).toEqual(["custody-gap"]);
    expect(rulesOf(state, 2)).toEqual([]);
  });
});

describe("a batch on paper and as a file", () => {
  const { state } = fold(["10:10", handed("Noor", "Courier")]);
  const file = custodyFile("B1", state, "Europe/Berlin");

  it("stands on its page with every bottle, in the house's time, and with lines for the hands to come", () => {
    const paper = custodyPaper(file);
    expect(paper.samples.rows).toHaveLength(2);
    expect(paper.samples.rows[0]?.join(" ")).toContain("E. coli");
    expect(paper.samples.rows[0]?.[2]).toContain("11:00");
    expect(paper.hands.rows).toHaveLength(1 + 3);
    expect(paper.notes.join(" ")).toContain("safety data sheet");
  });

  it("names every property in its schema", () => {
    const schema = custodyJsonSchema() as { properties: Record<string, unknown>; title: string };
    expect(Object.keys(schema.properties).sort()).toEqual(Object.keys(file).sort());
  });
});

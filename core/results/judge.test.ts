import { describe, expect, it } from "vitest";
import { resolveDuplicates } from "../judgement/duplicates";
import { readingVerdict, worstFirst } from "../judgement/finding";
import { defaultHouseRules } from "../rules/houseRules";
import { rulesWith } from "../testing/sessions";
import type { CheckEvidence, EvidencePoint, Portion, ReadingEvidence } from "./evidence";
import { judge } from "./judge";

const portion = (value: number, change: Partial<Portion> = {}): Portion => ({
  value,
  signal: -60,
  displayed: null,
  temperature_c: 14,
  steady: true,
  seconds_in_solution: 60,
  source: "live",
  rinsed: true,
  at: "2026-04-12T09:00:00.000Z",
  by: "noor",
  ...change,
});
const calibration: NonNullable<ReadingEvidence["calibration"]> = {
  id: "c",
  finished_at: "2026-04-12T08:00:00.000Z",
  valid_until: "2026-04-12T23:59:59.999Z",
  checked_at: null,
  verdict: "sound",
  basis: "signal",
  measurand: "ph",
  coefficients: { kind: "ph", slope_percent: 98, offset_mv: -4, segments: null },
  headline: "slope 98.0 %, offset −4.0 mV",
  low: 7.02,
  high: 10.06,
  points: [],
};
const evidence = (change: Partial<ReadingEvidence> = {}, ...portions: Portion[]): ReadingEvidence => {
  const all = portions.length ? portions : [portion(7.62), portion(7.64)];
  return {
    parameter: "ph",
    collected_at: null,
    measured_at: "2026-04-12T09:00:00.000Z",
    finished_at: "2026-04-12T09:00:00.000Z",
    meter: { id: "m", code: "P-2", name: "", display: "signal" },
    portions: all,
    outcome: resolveDuplicates(
      all.map((p) => p.value),
      { kind: "absolute", limit: 0.1 },
    ),
    duplicate: { kind: "absolute", limit: 0.1 },
    calibration,
    compensation: null,
    usual: null,
    check: null,
    ...change,
  };
};
const judged = (e: ReadingEvidence) => {
  const { verdict, findings } = judge(e, defaultHouseRules);
  return [verdict, ...findings.filter((f) => f.severity !== "ok").map((f) => f.rule)];
};
const lot = (lot_condition: "expired" | "withdrawn"): EvidencePoint => ({
  role: "point",
  name: "Buffer 7.00",
  lot_id: "l",
  lot_code: "B7-098",
  lot_condition,
  lot_sentence: "Expired on 1 Jan 2026.",
  reason_for_use: null,
  true_value: 7,
  uncertainty: 0.01,
  temperature_c: 20,
  signal: 0,
  as_found: null,
  as_left: null,
});

describe("judge", () => {
  it("finds a reading with everything in order sound, and still says why", () => {
    const { verdict, findings } = judge(evidence(), defaultHouseRules);
    expect(verdict).toBe("sound");
    expect(findings.length).toBeGreaterThanOrEqual(5);
    expect(findings.every((f) => f.limit !== "" && f.measured !== "" && f.sentence !== "")).toBe(true);
  });

  it("takes one reading in the water itself, and holds one portion of a bottle", () => {
    const alone = portion(7.62);
    const outcome = { pair: [0, 0] as [number, number], difference: 0, mean: 7.62, next: "accept" as const };
    expect(judged(evidence({ in_place: true, outcome }, alone))).toEqual(["sound"]);
    expect(judged(evidence({ outcome }, alone))).toEqual(["held", "duplicates-apart"]);
  });

  it.each<[string, ReadingEvidence, string[]]>([
    ["no calibration", evidence({ calibration: null }), ["held", "no-calibration"]],
    [
      "a calibration of yesterday",
      evidence({ calibration: { ...calibration, valid_until: "2026-04-11T23:59:59.999Z" } }),
      ["held", "calibration-in-force"],
    ],
    [
      "a failed calibration",
      evidence({ calibration: { ...calibration, verdict: "failed" } }),
      ["held", "calibration-verdict"],
    ],
    [
      "a qualified calibration",
      evidence({ calibration: { ...calibration, verdict: "qualified" } }),
      ["qualified", "calibration-verdict"],
    ],
    [
      "an expired lot",
      evidence({ calibration: { ...calibration, points: [lot("expired")] } }),
      ["qualified", "lot-expired"],
    ],
    [
      "a withdrawn lot",
      evidence({ calibration: { ...calibration, points: [lot("withdrawn")] } }),
      ["held", "lot-withdrawn"],
    ],
    [
      "water outside the buffers",
      evidence({}, portion(6.8), portion(6.81)),
      ["qualified", "outside-bracket"],
    ],
    [
      "an unsteady capture",
      evidence({}, portion(7.6, { steady: false }), portion(7.61)),
      ["qualified", "captured-unsteady"],
    ],
    [
      "a skipped rinse",
      evidence({}, portion(7.6, { rinsed: false }), portion(7.61)),
      ["qualified", "rinse-skipped"],
    ],
    [
      "hot water",
      evidence({}, portion(7.6, { temperature_c: 55 }), portion(7.61)),
      ["qualified", "sample-temperature"],
    ],
    ["a single portion", evidence({}, portion(7.6)), ["held", "duplicates-apart"]],
    [
      "three that disagree",
      evidence({}, portion(7.2), portion(7.6), portion(8)),
      ["held", "duplicates-apart"],
    ],
    ["two of three that agree", evidence({}, portion(7.2), portion(7.6), portion(7.62)), ["sound"]],
  ])("judges %s", (_name, given, expected) => {
    expect(judged(given)).toEqual(expected);
  });

  it("names the side on which a buffer is missing", () => {
    const { findings } = judge(evidence({}, portion(6.8), portion(6.81)), defaultHouseRules);
    expect(findings.find((f) => f.rule === "outside-bracket")?.action).toContain("below pH 6.8");
  });

  it("gives every objection a next action", () => {
    const bad = evidence(
      { calibration: null },
      portion(7.2, { steady: false, rinsed: false, temperature_c: 60 }),
    );
    for (const f of judge(bad, defaultHouseRules).findings) {
      if (f.severity !== "ok") expect(f.action).not.toBe("");
    }
  });

  it("is pure: the same evidence gives the same judgement", () => {
    const e = evidence();
    expect(judge(e, defaultHouseRules)).toEqual(judge(structuredClone(e), defaultHouseRules));
  });
});

describe("other measurands", () => {
  const conductivity = (change: Partial<ReadingEvidence>, ...portions: Portion[]) => {
    const e = evidence({ parameter: "conductivity", calibration: null, ...change }, ...portions);
    return judged({ ...e, duplicate: { kind: "relative", limit: 20 } }).filter((r) => r !== "no-calibration");
  };
  it("asks for a warmer sample where the compensation is a guess", () => {
    const water = (t: number) => [portion(600, { temperature_c: t }), portion(600, { temperature_c: t })];
    expect(conductivity({}, ...water(14))).toEqual(["held"]);
    expect(conductivity({}, ...water(2))).toEqual(["held", "compensation"]);
    expect(conductivity({}, ...water(31))).toEqual(["held", "compensation"]);
  });
  it("holds a value that is off by a thousand from what the site gives", () => {
    const usual = { low: 500, high: 700 };
    const slip = conductivity({ usual }, portion(0.61), portion(0.61));
    expect(slip).toEqual(["held", "magnitude"]);
    expect(conductivity({ usual }, portion(1500), portion(1500))).toEqual(["held"]);
  });
  it("notes, and does not hold, a thermometer nobody checked", () => {
    const e = evidence({ parameter: "temperature", calibration: null }, portion(14.1), portion(14.2));
    expect(judged(e)).toEqual(["qualified", "no-calibration"]);
  });
});

describe("a calibration of the week", () => {
  const weekly = rulesWith("calibration", { interval: "week-with-daily-check" });
  const old = {
    ...calibration,
    finished_at: "2026-04-09T08:00:00.000Z",
    valid_until: "2026-04-15T23:59:59.999Z",
  };
  const objectionsTo = (checked_at: string | null, rules = weekly) =>
    judge(evidence({ calibration: { ...old, checked_at } }), rules)
      .findings.filter((f) => f.severity !== "ok")
      .map((f) => f.rule);
  it("needs a check on the day of use", () => {
    expect(objectionsTo(null)).toEqual(["daily-check"]);
    expect(objectionsTo("2026-04-11T08:00:00.000Z")).toEqual(["daily-check"]);
    expect(objectionsTo("2026-04-12T08:00:00.000Z")).toEqual([]);
  });
  it("asks for none under another rule", () => {
    expect(objectionsTo(null, defaultHouseRules)).toEqual([]);
  });
});

describe("the check that followed", () => {
  const check = (change: Partial<CheckEvidence>): CheckEvidence => ({
    check_id: "k-ph",
    moment: "closing",
    check_at: "2026-04-12T16:00:00.000Z",
    last_good_at: "2026-04-12T08:00:00.000Z",
    true_value: 7,
    read_value: 7.3,
    passed: false,
    drift: 0.3,
    corrected: true,
    grade: "good",
    correction: -0.04,
    ...change,
  });
  it("adds a finding when it passed, a note when it drifted, a hold when the record is poor", () => {
    expect(
      judged(evidence({ check: check({ passed: true, grade: null, corrected: false, correction: 0 }) })),
    ).toEqual(["sound"]);
    expect(judged(evidence({ check: check({}) }))).toEqual(["qualified", "drift"]);
    expect(judged(evidence({ check: check({ grade: "poor" }) }))).toEqual(["held", "drift"]);
  });
  it("says what was taken out", () => {
    const { findings } = judge(evidence({ check: check({}) }), defaultHouseRules);
    expect(findings.find((f) => f.rule === "drift")?.sentence).toContain(
      "+0.040 pH, is taken out; record good",
    );
  });
});

describe("findings", () => {
  it("put the worst first and give the worst verdict", () => {
    const finding = (severity: "ok" | "qualify" | "hold") => ({
      rule: severity,
      severity,
      measured: "",
      limit: "",
      sentence: "",
      action: "",
    });
    const mixed = [finding("ok"), finding("hold"), finding("qualify")];
    expect(worstFirst(mixed).map((f) => f.rule)).toEqual(["hold", "qualify", "ok"]);
    expect(readingVerdict(mixed)).toBe("held");
    expect(readingVerdict([])).toBe("sound");
  });
});

describe("a reading that was read with another calibration than the one in force", () => {
  const read = (value: number | null, change: Partial<ReadingEvidence> = {}) => {
    const { finished_at: _at, headline, coefficients } = calibration;
    const read_with = { finished_at: "2026-04-11T08:00:00.000Z", headline, coefficients, value };
    const { verdict, findings } = judge(evidence({ read_with, ...change }), defaultHouseRules);
    return { verdict, said: findings.find((f) => f.rule === "read-with-another-calibration") };
  };

  // The mean of 7.62 and 7.64 is 7.63; portions may lie 0.1 pH apart.
  it.each([7.53, 7.73])("is as good as a portion more where that one gives %s", (value) => {
    const { verdict, said } = read(value);
    expect([verdict, said?.severity]).toEqual(["sound", "ok"]);
    expect(said?.sentence).toContain("With the calibration of 12 Apr, 08:00");
  });

  it.each([7.52, 7.74])("is qualified where that one gives %s, and says both", (value) => {
    const { verdict, said } = read(value);
    expect([verdict, said?.severity]).toEqual(["qualified", "qualify"]);
    expect(said?.sentence).toContain(`reads pH ${value}, not pH 7.63.`);
    expect(said?.measured).toBe("pH 7.63 with that of 11 Apr, 08:00");
  });

  it("says nothing where that one gives no value, no two portions agree, or none is in force", () => {
    expect(read(null).said).toBeUndefined();
    const apart = resolveDuplicates([7, 7.5, 8], { kind: "absolute", limit: 0.1 });
    expect(read(7.4, { outcome: apart }).said).toBeUndefined();
    expect(read(7.4, { calibration: null }).said).toBeUndefined();
  });
});

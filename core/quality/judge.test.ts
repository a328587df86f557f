import { describe, expect, it } from "vitest";
import { resolveDuplicates } from "./duplicates";
import type { Portion, ReadingEvidence } from "./evidence";
import { readingVerdict, worstFirst } from "./finding";
import { defaultHouseRules } from "./houseRules";
import { judge } from "./judge";

const portion = (ph: number, change: Partial<Portion> = {}): Portion => ({
  ph,
  signal_mv: -60,
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
  verdict: "sound",
  basis: "signal",
  slope_percent: 98,
  offset_mv: -4,
  lowest_ph: 7.02,
  highest_ph: 10.06,
  points: [],
};
const evidence = (change: Partial<ReadingEvidence> = {}, ...portions: Portion[]): ReadingEvidence => {
  const all = portions.length ? portions : [portion(7.62), portion(7.64)];
  return {
    parameter: "ph",
    taken_at: "2026-04-12T09:00:00.000Z",
    meter: { id: "m", code: "P-2", name: "", display: "signal" },
    portions: all,
    outcome: resolveDuplicates(
      all.map((p) => p.ph),
      0.1,
    ),
    duplicate_limit_ph: 0.1,
    calibration,
    ...change,
  };
};
const judged = (e: ReadingEvidence) => {
  const { verdict, findings } = judge(e, defaultHouseRules);
  return [verdict, ...findings.filter((f) => f.severity !== "ok").map((f) => f.rule)];
};
const lot = (lot_condition: "expired" | "withdrawn") => ({
  role: "point" as const,
  lot_id: "l",
  lot_code: "B7-098",
  lot_condition,
  lot_sentence: "Expired on 1 Jan 2026.",
  reason_for_use: null,
  buffer_ph: 7,
  uncertainty_ph: 0.01,
  temperature_c: 20,
  signal_mv: 0,
  as_found_ph: null,
  as_left_ph: null,
});

describe("judge", () => {
  it("finds a reading with everything in order sound, and still says why", () => {
    const { verdict, findings } = judge(evidence(), defaultHouseRules);
    expect(verdict).toBe("sound");
    expect(findings.length).toBeGreaterThanOrEqual(5);
    expect(findings.every((f) => f.limit !== "" && f.measured !== "" && f.sentence !== "")).toBe(true);
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

import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { recordId } from "../../app/server/bench/benchWork.server";
import { writeLocked } from "../../app/server/platform/write.server";
import { judgeAnew } from "../../app/server/results/judgeAnew.server";
import { findReading } from "../../app/server/results/readings.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { openTestRun, postPlayed } from "../../app/server/testing/benchRun";
import { calibratedPh, phReading } from "../../app/server/testing/testBench";
import type { AnalysisEvidence } from "../../core/results/analysisEvidence";
import type { ReadingEvidence } from "../../core/results/evidence";
import type { AnyEvidence } from "../../core/results/judgeAny";
import type { BatchCheck } from "../../core/results/qualityEvidence";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const morning = "2026-04-12T08:00:00.000Z";

/** Changes what a result rests on, as news would, and opens it. */
async function pageAfter(id: string, change: (evidence: AnyEvidence) => AnyEvidence) {
  const { db, person } = hands.bench;
  await writeLocked(db, (trx) => judgeAnew(trx, [id], change, "news", { by: person.id, now: morning }));
  const page = await new Visitor(hands.bench).open(`/ledger?reading=${id}`);
  return { page, findings: (await findReading(db, id))?.findings ?? [] };
}

/** Whether the rule stands against the result, and its sentence and its next step on the page. */
async function seen(id: string, rule: string, change: (evidence: AnyEvidence) => AnyEvidence) {
  const { page, findings } = await pageAfter(id, change);
  const found = findings.find((f) => f.rule === rule && f.severity !== "ok");
  expect(found, `${rule} of ${findings.map((f) => f.rule).join(", ")}`).toBeDefined();
  // The page sets formulas low and closes up spaces.
  const plain = (text: string) => text.replace(/\s+/g, "");
  expect(plain(page.text)).toContain(plain(found?.sentence ?? "never"));
  expect(plain(page.text)).toContain(plain(found?.action ?? "never"));
}

const blankOut: BatchCheck = {
  reading_id: "r",
  at: morning,
  shown: "0.30 mg/L",
  verdict: "held",
  objection: "Reagent blank is high.",
};
const lot = { material: "reagent", name: "Reagent", code: "R-1", expires_on: null, reason: null };
const pairs = Array.from({ length: 9 }, (_, i): [number, number] => [400 + 20 * i, 1 + 0.05 * i]);

const ofAnalyses: [rule: string, change: (e: AnalysisEvidence) => Partial<AnalysisEvidence>][] = [
  ["lot-expired", () => ({ lots: [{ ...lot, expires_on: "2026-01-01" }] })],
  [
    "lot-withdrawn",
    () => ({ lots: [{ ...lot, condition: { state: "withdrawn", sentence: "It turned brown." } }] }),
  ],
  ["lot-questioned", () => ({ lots: [{ ...lot, reason: "the label was wet" }] })],
  ["lot-missing", () => ({ unnamed: ["reagent"] })],
  ["over-range", () => ({ reported: { kind: "above", limit: 2.5 } })],
  [
    "no-result",
    (e) => ({ reported: null, pair: null, replicates: e.replicates.map((r) => ({ ...r, found: null })) }),
  ],
  ["holding-time", () => ({ collected_at: "2026-04-01T08:00:00.000Z" })],
  ["sample-temperature", () => ({ temperature_c: 60 })],
  [
    "step-skipped",
    (e) => ({
      replicates: e.replicates.map((r) => ({ ...r, skipped: [{ step: "Mix", reason: "in a hurry" }] })),
    }),
  ],
  [
    "read-late",
    (e) => ({
      replicates: e.replicates.map((r) => ({
        ...r,
        timings: [{ name: "Reading", reading: true, due_s: 600, after_s: 900, early_s: 0, late_s: 240 }],
      })),
    }),
  ],
  [
    "second-look",
    (e) => ({
      replicates: e.replicates.map((r) => ({
        ...r,
        second: { observer: "Maren", found: { kind: "value" as const, value: 2 } },
      })),
    }),
  ],
  ["overshot", (e) => ({ replicates: e.replicates.map((r) => ({ ...r, back_titrated: true })) })],
  ["positive-control", () => ({ control: { reacted: false } })],
  ["curve", () => ({ curve: { standards: [{ concentration: 1, recovery: 70 }] } })],
  ["normal", () => ({ normal: { n: 20, median: 0.1, mad: 0.01 } })],
  [
    "together",
    () => ({
      together: {
        with: {
          reading_id: "x",
          parameter: "conductivity",
          analyte: "Conductivity",
          value: 900,
          unit: "µS/cm",
        },
        pairs,
      },
    }),
  ],
  [
    "batch-blank",
    () => ({
      batch: {
        samples: 1,
        checks: [{ kind: "blank", before: blankOut, after: null, samples_since: 1 }],
      },
    }),
  ],
];

const ofMeters: [rule: string, change: (e: ReadingEvidence) => Partial<ReadingEvidence>][] = [
  ["no-calibration", () => ({ calibration: null })],
  ["calibration-verdict", (e) => ({ calibration: e.calibration && { ...e.calibration, verdict: "failed" } })],
  [
    "captured-unsteady",
    (e) => ({ portions: e.portions.map((p) => ({ ...p, source: "live" as const, steady: false })) }),
  ],
  ["sample-temperature", (e) => ({ portions: e.portions.map((p) => ({ ...p, temperature_c: 70 })) })],
  ["normal", () => ({ normal: { n: 20, median: 4, mad: 0.01 } })],
];

describe("what stands against a result is said on its page, with what to do", () => {
  it.each(ofAnalyses)("of a run: %s", async (rule, change) => {
    const method = libraryMethod("phosphate-photometer");
    const work = ulid(Date.parse(morning));
    await openTestRun(hands.bench, method, morning, { work, subject: { kind: "sample" } });
    const player = new RunPlayer(method, { subject: { kind: "sample" } }, Date.parse(morning)).play(0.8);
    await postPlayed(hands.bench, work, player.events, morning);
    await seen(`${work}-phosphate`, rule, (e) => ({ ...e, ...change(e as AnalysisEvidence) }) as AnyEvidence);
  });

  it.each(ofMeters)("of a reading: %s", async (rule, change) => {
    await calibratedPh(hands.bench, morning);
    const id = recordId(await phReading(hands.bench, -50, "2026-04-12T09:00:00.000Z"), "ph");
    await seen(id, rule, (e) => ({ ...e, ...change(e as ReadingEvidence) }) as AnyEvidence);
  });
});

import type { Knex } from "knex";
import { kindWords } from "../../../core/bench/resultKinds";
import type { Verdict } from "../../../core/judgement/finding";
import { counted } from "../../../core/quantity/format";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { showDate, showTime } from "../../../core/time/words";
import { dayBounds } from "../../../core/time/zone";
import { inHouse, type Report } from "../platform/report";
import { resultWords } from "../results/resultWords";
import { rulesInForce } from "../rules/rules.server";
import { signaturesOfDay, wholeShift } from "./review.server";

/** Calibrations and checks of a shift, as its report lists them. */
async function instruments(db: Knex, from: string, to: string, zone: string): Promise<string[][]> {
  const calibrations: { at: string; code: string; measurand: Measurand; verdict: string }[] = await db(
    "calibrations",
  )
    .join("meters", "meters.id", "calibrations.meter_id")
    .whereBetween("finished_at", [from, to])
    .select("finished_at as at", "meters.code", "measurand", "verdict");
  const checks: { at: string; code: string; measurand: Measurand; passed: boolean | number }[] = await db(
    "checks",
  )
    .join("meters", "meters.id", "checks.meter_id")
    .whereBetween("at", [from, to])
    .select("at", "meters.code", "measurand", "passed");
  return [
    ...calibrations.map((c) => ({
      at: c.at,
      row: [c.code, `calibrated, ${measurandFacts[c.measurand].word}`, c.verdict],
    })),
    ...checks.map((c) => ({
      at: c.at,
      row: [c.code, `checked, ${measurandFacts[c.measurand].word}`, c.passed ? "passed" : "failed"],
    })),
  ]
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map(({ at, row }) => [showTime(at, zone), ...row]);
}

/** The report of a shift: what was measured and by whom, what stands against it, what was seen, and who signed what. */
export async function shiftReport(db: Knex, day: string): Promise<Report> {
  const { zone, decimal_mark } = (await rulesInForce(db)).rules;
  const bounds = dayBounds(zone);
  const [from, to] = [bounds.start(day), bounds.end(day)];
  const lines = await wholeShift(db, from, to);
  const signed = await signaturesOfDay(db, day);
  const unsigned = lines.filter((l) => l.signed_judgement !== l.judgements).length;
  const count = (verdict: Verdict) => lines.filter((l) => l.verdict === verdict).length;
  const against = lines.filter((l) => l.verdict !== "sound" || l.looked !== null);
  const meters = await instruments(db, from, to, zone);
  const report: Report = {
    kind: "shift report",
    title: `Shift of ${showDate(day, "long")}`,
    number: signed.at(-1)?.id ?? "not signed",
    facts: [
      ["Measured by", [...new Set(lines.map((l) => l.by))].join(", ") || "–"],
      [
        "Results",
        `${lines.length}: ${count("sound")} sound, ${count("qualified")} qualified, ${count("held")} held, ${count("void")} taken out`,
      ],
      ["Times", `local, ${zone}`],
    ],
    sections: [
      {
        title: "Signatures",
        lines: [
          ...signed.map(
            (s) =>
              `${s.by}, ${showTime(s.at, zone, "full")}: ${counted(s.readings, "result")}.${s.comment ? ` “${s.comment}”` : ""} Sealed as ${s.hash}.`,
          ),
          ...(unsigned > 0 ? [`${counted(unsigned, "result")} not signed as they are now.`] : []),
        ],
      },
      ...(meters.length
        ? [
            {
              title: "Meters",
              table: { columns: ["At", "Meter", "What", "Verdict"], rows: meters, shares: [1, 1, 3, 2] },
            },
          ]
        : []),
      {
        title: "Results",
        table: {
          columns: ["At", "Water, sample", "What", "Result", "Verdict", "With", "By"],
          shares: [8, 22, 17, 23, 12, 20, 14],
          rows: lines.map((l) => [
            showTime(l.measured_at, zone),
            l.kind === "sample" ? [l.site, l.sample].filter(Boolean).join(", ") : kindWords[l.kind],
            l.analyte,
            resultWords(l),
            l.verdict === "void" ? "taken out" : l.verdict,
            l.instrument,
            l.by,
          ]),
        },
      },
      ...(against.length
        ? [
            {
              title: "What stands against results, and what the reviewer saw",
              table: {
                columns: ["At", "What", "Against it", "Seen"],
                shares: [8, 22, 50, 30],
                rows: against.map((l) => [
                  showTime(l.measured_at, zone),
                  `${l.analyte} ${resultWords(l)}`,
                  l.findings.map((f) => f.sentence).join(" "),
                  l.looked ? `${l.looked.comment} (${l.looked.by})` : "",
                ]),
              },
            },
          ]
        : []),
    ],
    closing: [
      "± is the expanded uncertainty, k = 2.",
      "A result that is changed after its signature keeps what was signed, and is signed anew.",
    ],
  };
  return inHouse(report, decimal_mark);
}

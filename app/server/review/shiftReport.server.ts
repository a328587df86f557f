import type { Knex } from "knex";
import { type Finding, objections, type Verdict } from "../../../core/judgement/finding";
import { counted } from "../../../core/quantity/format";
import { showResult } from "../../../core/quantity/showResult";
import { showDate, showTime } from "../../../core/time/words";
import { dayBounds } from "../../../core/time/zone";
import type { Report } from "../platform/report";
import { rulesInForce } from "../rules/rules.server";
import { signaturesOfDay } from "./review.server";

interface Line {
  id: string;
  site: string;
  sample: string;
  kind: string;
  analyte: string;
  value: number | null;
  shown: string | null;
  decimals: number;
  unit: string;
  uncertainty: number | null;
  verdict: Verdict;
  findings: string;
  measured_at: string;
  by: string;
  instrument: string;
  judgements: number;
  signed_judgement: number | null;
  comment: string | null;
}

/** Everything that was measured in a shift, whether signed or not, in the order of measuring. */
const linesOf = (db: Knex, from: string, to: string): Promise<Line[]> =>
  db("readings")
    .join("sites", "sites.id", "readings.site_id")
    .join("people", "people.id", "readings.person_id")
    .leftJoin("meters", "meters.id", "readings.meter_id")
    .leftJoin("review_notes", (on) => {
      const newest = db("review_notes as n").whereRaw("n.reading_id = readings.id").max("n.id");
      on.on("review_notes.id", "=", db.raw("(?)", [newest]));
    })
    .whereBetween("readings.measured_at", [from, to])
    .orderBy(["readings.measured_at", "readings.id"])
    .select(
      "readings.id",
      "sites.name as site",
      "readings.sample",
      "readings.kind",
      "readings.analyte",
      "readings.value",
      "readings.shown",
      "readings.decimals",
      "readings.unit",
      "readings.uncertainty",
      "readings.verdict",
      "readings.findings",
      "readings.measured_at",
      "people.name as by",
      db.raw("coalesce(meters.code, readings.method, '') as instrument"),
      "readings.judgements",
      "readings.signed_judgement",
      "review_notes.comment",
    );

/** Calibrations and checks of a shift, as its report lists them. */
async function instruments(db: Knex, from: string, to: string, zone: string): Promise<string[][]> {
  const calibrations: { at: string; code: string; measurand: string; verdict: string }[] = await db(
    "calibrations",
  )
    .join("meters", "meters.id", "calibrations.meter_id")
    .whereBetween("finished_at", [from, to])
    .select("finished_at as at", "meters.code", "measurand", "verdict");
  const checks: { at: string; code: string; measurand: string; passed: boolean | number }[] = await db(
    "checks",
  )
    .join("meters", "meters.id", "checks.meter_id")
    .whereBetween("at", [from, to])
    .select("at", "meters.code", "measurand", "passed");
  return [
    ...calibrations.map((c) => ({ at: c.at, row: [c.code, `calibrated, ${c.measurand}`, c.verdict] })),
    ...checks.map((c) => ({
      at: c.at,
      row: [c.code, `checked, ${c.measurand}`, c.passed ? "passed" : "failed"],
    })),
  ]
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map(({ at, row }) => [showTime(at, zone), ...row]);
}

/** The report of a shift: what was measured and by whom, what stands against it, what was seen, and who signed what. */
export async function shiftReport(db: Knex, day: string): Promise<Report> {
  const { zone } = (await rulesInForce(db)).rules;
  const bounds = dayBounds(zone);
  const [from, to] = [bounds.start(day), bounds.end(day)];
  const lines = await linesOf(db, from, to);
  const signed = await signaturesOfDay(db, day);
  const unsigned = lines.filter((l) => l.signed_judgement !== l.judgements).length;
  const count = (verdict: Verdict) => lines.filter((l) => l.verdict === verdict).length;
  const against = lines.filter((l) => l.verdict !== "sound" || l.comment !== null);
  const unitOf = (l: Line) => (l.unit === "pH" ? "" : ` ${l.unit}`);
  const meters = await instruments(db, from, to, zone);
  return {
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
          shares: [8, 24, 18, 18, 13, 22, 14],
          rows: lines.map((l) => [
            showTime(l.measured_at, zone),
            l.kind === "sample" ? `${l.site}, ${l.sample}` : l.kind,
            l.analyte,
            `${showResult(l)}${unitOf(l)}`,
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
                  `${l.analyte} ${showResult(l)}`,
                  objections(JSON.parse(l.findings) as Finding[])
                    .map((f) => f.sentence)
                    .join(" "),
                  l.comment ?? "",
                ]),
              },
            },
          ]
        : []),
    ],
    closing: ["A result that is changed after its signature keeps what was signed, and is signed anew."],
  };
}

import type { Knex } from "knex";
import type { Verdict } from "../../../core/judgement/finding";
import { showResult } from "../../../core/quantity/showResult";
import type { HouseRules } from "../../../core/rules/houseRules";
import { showTime } from "../../../core/time/words";
import { inHouse, type Report } from "../platform/report";
import { findReading, judgementsOf, type Reading } from "../results/readings.server";
import { amendmentsOf } from "./amend.server";
import { remarksOf } from "./remarks.server";
import { signaturesOf } from "./review.server";

/** One thing that was done with a result, or with the water it is of. */
interface Step {
  at: string;
  what: string;
  by: string | null;
  /** In the words of whoever did it, or what came of it. */
  says: string;
  verdict: Verdict | null;
}

const notesOf = (
  db: Knex,
  readingId: string,
): Promise<{ at: string; by: string; comment: string; judgement: number }[]> =>
  db("review_notes")
    .join("people", "people.id", "review_notes.person_id")
    .where({ reading_id: readingId })
    .orderBy("review_notes.id")
    .select("at", "people.name as by", "comment", "judgement");

/** Where a registered bottle was, before anything was measured of it. */
async function bottleSteps(db: Knex, sampleId: string | null): Promise<Step[]> {
  if (!sampleId) return [];
  const sample: { code: string; collected_at: string; created_at?: string } | undefined = await db("samples")
    .where({ id: sampleId })
    .first("code", "collected_at");
  return sample
    ? [
        {
          at: sample.collected_at,
          what: "bottle filled",
          by: null,
          says: `Sample ${sample.code}`,
          verdict: null,
        },
      ]
    : [];
}

export interface RecordOfReading {
  reading: Reading;
  /** How often it was judged: what an amendment is based on. */
  judgements: number;
  steps: Step[];
  signed: boolean;
}

/** Everything that was done with a result, from the bottle to the signature, in the order of time. */
export async function recordOf(db: Knex, id: string): Promise<RecordOfReading | null> {
  const reading = await findReading(db, id);
  if (!reading) return null;
  const [judged, notes, amended, signatures, bottle, remarks] = await Promise.all([
    judgementsOf(db, id),
    notesOf(db, id),
    amendmentsOf(db, id),
    signaturesOf(db, id),
    bottleSteps(db, reading.sample_id),
    remarksOf(db, id),
  ]);
  const written = (value: number | null) =>
    value === null ? "" : `${showResult({ shown: null, value, decimals: reading.decimals })} ${reading.unit}`;
  // At one moment what was done comes before what came of it.
  const steps: (Step & { rank: number })[] = [
    ...bottle.map((s) => ({ ...s, rank: 0 })),
    {
      at: reading.measured_at,
      what: "measured",
      by: reading.by,
      says: `with ${reading.meter}`,
      verdict: null,
      rank: 1,
    },
    ...amended.map((a) => ({
      at: a.at,
      what: `amended, ${a.what}`,
      by: a.by,
      says: `${a.before} → ${a.after}: ${a.reason}`,
      verdict: null,
      rank: 2,
    })),
    ...judged.map((j) => ({
      at: j.at,
      what: j.seq === 1 ? "judged" : "judged anew",
      by: null,
      says: [written(j.value), j.seq === 1 ? "" : j.cause].filter(Boolean).join(", "),
      verdict: j.verdict,
      rank: 3,
    })),
    ...notes.map((n) => ({
      at: n.at,
      what: "looked at",
      by: n.by,
      says: `“${n.comment}”`,
      verdict: null,
      rank: 4,
    })),
    ...remarks.map((r) => ({
      at: r.at,
      what: "remark",
      by: r.by,
      says: `“${r.text}”`,
      verdict: null,
      rank: 4,
    })),
    ...signatures.map((s) => ({
      at: s.at,
      what: "signed",
      by: s.by,
      says: `with ${s.readings === 1 ? "nothing else" : `${s.readings - 1} others`} of the shift${s.comment ? `. “${s.comment}”` : ""}`,
      verdict: null,
      rank: 5,
    })),
  ];
  steps.sort((a, b) => (a.at === b.at ? a.rank - b.rank : a.at < b.at ? -1 : 1));
  return {
    reading,
    judgements: judged.length,
    steps: steps.map(({ rank: _, ...step }) => step),
    signed: signatures.at(-1)?.judgement === judged.length,
  };
}

/** The record of a result as a report: its audit trail. */
export function recordReport(
  { reading, steps, signed }: RecordOfReading,
  { zone, decimal_mark }: Pick<HouseRules, "zone" | "decimal_mark">,
): Report {
  const report: Report = {
    kind: "record of a result",
    title: `${reading.analyte}, ${reading.site}`,
    number: reading.id,
    facts: [
      ["Result", `${showResult(reading)} ${reading.unit}`],
      ["Verdict", reading.verdict === "void" ? "taken out" : reading.verdict],
      ["Sample", reading.sample],
      ["Measured", `${showTime(reading.measured_at, zone, "full")}, ${reading.by}, ${reading.meter}`],
      ["Signed", signed ? "as it is now" : "not as it is now"],
    ],
    sections: [
      {
        title: "Findings",
        lines: reading.findings
          .filter((f) => f.severity !== "ok")
          .map((f) => `${f.sentence} (${f.measured}; limit ${f.limit})`),
      },
      {
        title: "From the bottle to the signature",
        table: {
          columns: ["When", "What", "By", "In words"],
          shares: [22, 18, 18, 52],
          rows: steps.map((s) => [
            showTime(s.at, zone, "full"),
            s.verdict ? `${s.what}: ${s.verdict === "void" ? "taken out" : s.verdict}` : s.what,
            s.by ?? "",
            s.says,
          ]),
        },
      },
    ].filter((s) => s.table || s.lines.length > 0),
    closing: [`Times are local, ${zone}.`],
  };
  return inHouse(report, decimal_mark);
}

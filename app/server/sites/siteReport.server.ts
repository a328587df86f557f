import type { Knex } from "knex";
import { counted, formatNumber } from "../../../core/quantity/format";
import { analyteOrder } from "../../../core/quantity/measurand";
import { medianOf } from "../../../core/quantity/robust";
import { localDate } from "../../../core/time/local";
import { showDate, showTime } from "../../../core/time/words";
import { type DayBounds, dayBounds } from "../../../core/time/zone";
import { inHouse, type Report } from "../platform/report";
import type { Plot } from "../platform/reportPlot";
import { filtered, ledgerQuerySchema } from "../results/ledger.server";
import { joined, type ReadingRow, rowColumns } from "../results/readings.server";
import { resultWords } from "../results/resultWords";
import { type ValuesInTime, valuesInTime } from "../results/valuesInTime.server";
import { listLimitSets } from "../rules/limitSets.server";
import { rulesInForce } from "../rules/rules.server";
import { complianceOf } from "./compliance.server";
import { findSite } from "./sites.server";

/** More results than these make no report that somebody reads; the ledger's file has them all. */
const mostResults = 600;

interface Period {
  from: string;
  to: string;
}

/** The results of a site's water in a period, oldest first; what was taken out is none. */
async function resultsOf(
  db: Knex,
  siteId: string,
  { from, to }: Period,
  days: DayBounds,
): Promise<ReadingRow[]> {
  const query = ledgerQuerySchema.parse({ site: siteId, kind: "sample", from, to });
  const rows: ReadingRow[] = await filtered(joined(db), query, days)
    .whereNot("readings.verdict", "void")
    .orderBy("readings.measured_at", "desc")
    .orderBy("readings.id", "desc")
    .limit(mostResults)
    .select(...rowColumns(db));
  return rows.reverse();
}

/** One quantity in time, with what its site usually gives and what its limits ask; null where there is nothing to draw. */
function plotOf(values: ValuesInTime, { from, to }: Period, zone: string): Plot | null {
  const points = values.points.flatMap((p) =>
    p.value === null || p.verdict === "void" ? [] : [{ ...p, value: p.value }],
  );
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last || points.length < 3) return null;
  const [begin, end] = [Date.parse(first.measured_at), Date.parse(last.measured_at)];
  const unit = values.unit === "pH" ? "" : `, ${values.unit}`;
  const n = (value: number) => formatNumber(value, values.decimals);
  const all = points.map((p) => p.value);
  return {
    title: `${values.analyte}${unit}`,
    words: `${values.analyte}, ${counted(points.length, "result")} from ${showDate(from)} to ${showDate(to)}: between ${n(Math.min(...all))} and ${n(Math.max(...all))}${unit}, the last ${n(last.value)}.`,
    decimals: values.decimals,
    from: showDate(localDate(first.measured_at, zone)),
    to: showDate(localDate(last.measured_at, zone)),
    points: points.map((p) => ({
      at: end > begin ? (Date.parse(p.measured_at) - begin) / (end - begin) : 0.5,
      value: p.value,
      marked: p.verdict === "held",
    })),
    levels: values.limits.flatMap(({ name, low, high }) =>
      [low, high].flatMap((value) =>
        value === null ? [] : [{ value, words: name.slice(0, 26), strong: false }],
      ),
    ),
    band: values.usual,
  };
}

/** Smallest, middle and largest of the plain values of one quantity. */
function summaryOf(rows: readonly ReadingRow[]): string[] {
  const [first] = rows;
  const values = rows.flatMap((r) => (r.value === null ? [] : [r.value])).sort((a, b) => a - b);
  const n = (value: number | undefined) =>
    value === undefined || !first ? "–" : formatNumber(value, first.decimals);
  const median = values.length ? medianOf(values) : undefined;
  const notSound = rows.filter((r) => r.verdict !== "sound").length;
  return [
    first?.analyte ?? "",
    first?.unit === "pH" ? "–" : (first?.unit ?? ""),
    String(rows.length),
    n(values[0]),
    n(median),
    n(values.at(-1)),
    notSound ? String(notSound) : "none",
  ];
}

/** The report of a site over a period: each quantity in figures and in time, what its limits ask, every result. Null where there is no such site. */
export async function siteReport(db: Knex, siteId: string, period: Period): Promise<Report | null> {
  const site = await findSite(db, siteId);
  if (!site) return null;
  const { zone, decimal_mark } = (await rulesInForce(db)).rules;
  const days = dayBounds(zone);
  const rows = await resultsOf(db, siteId, period, days);
  const groups = [...new Set(rows.map((r) => JSON.stringify([r.parameter, r.analyte, r.unit])))]
    .map((key) => rows.filter((r) => JSON.stringify([r.parameter, r.analyte, r.unit]) === key))
    .sort((a, b) => analyteOrder(a[0]?.parameter ?? "") - analyteOrder(b[0]?.parameter ?? ""));
  const plots: Plot[] = [];
  for (const parameter of new Set(groups.map((g) => g[0]?.parameter ?? ""))) {
    const query = ledgerQuerySchema.parse({ site: siteId, parameter, ...period });
    const values = await valuesInTime(db, query, days);
    const plot = values && plotOf(values, period, zone);
    if (plot) plots.push(plot);
  }
  const held = (await listLimitSets(db)).filter((s) => site.limit_sets.includes(s.id));
  const compliance = await complianceOf(db, siteId, held, days.start(period.from), days.end(period.to));
  const report: Report = {
    kind: "site report",
    title: site.name,
    number: `${showDate(period.from)} to ${showDate(period.to)}`,
    facts: [
      ["Water", site.water],
      ["Results", rows.length === mostResults ? `the newest ${mostResults}` : counted(rows.length, "result")],
      ["Limits", held.map((s) => s.name).join(", ") || "none chosen"],
      ["Times", `local, ${zone}`],
    ],
    sections: [
      ...(groups.length
        ? [
            {
              title: "In figures",
              table: {
                columns: ["Quantity", "Unit", "Results", "Smallest", "Middle", "Largest", "Not sound"],
                shares: [30, 12, 10, 12, 12, 12, 12],
                rows: groups.map(summaryOf),
              },
            },
          ]
        : [{ title: "In figures", lines: ["Nothing was measured here in this period."] }]),
      ...(plots.length ? [{ title: "In time", plots }] : []),
      ...(compliance.length
        ? [
            {
              title: "Held against limits",
              table: {
                columns: ["Quantity", "What is asked", "By", "Measured", "Beyond"],
                shares: [20, 34, 22, 10, 10],
                rows: compliance.map((c) => [c.analyte, c.words, c.set, String(c.measured), String(c.times)]),
              },
            },
          ]
        : []),
      ...(rows.length
        ? [
            {
              title: "Every result",
              table: {
                columns: ["When", "Sample", "What", "Result", "Verdict", "With"],
                shares: [18, 16, 22, 20, 12, 20],
                rows: rows.map((r) => [
                  showTime(r.measured_at, zone, "both"),
                  r.sample,
                  r.analyte,
                  resultWords(r),
                  r.verdict,
                  r.meter,
                ]),
              },
            },
          ]
        : []),
    ],
    closing: [
      "A square marks a held result. The band is what is usual here. What stands against a result and what it rests on is in its record.",
    ],
  };
  return inHouse(report, decimal_mark);
}

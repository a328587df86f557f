import type { Knex } from "knex";
import { signalWords } from "../../../core/quality/controlChart";
import { counted, formatNumber } from "../../../core/quantity/format";
import { localDate } from "../../../core/time/local";
import { showDate, showTime } from "../../../core/time/words";
import { inHouse, type Report } from "../platform/report";
import type { Plot } from "../platform/reportPlot";
import { rulesInForce } from "../rules/rules.server";
import { type ChartKey, chartFacts, chartState, chartVersions } from "./charts.server";

/** So many of the newest results stand on paper. */
const onPaper = 90;

/** The chart of a control on paper: its results with their limits, what they signal, the history of its limits. Null where nobody measured it. */
export async function chartReport(db: Knex, key: ChartKey): Promise<Report | null> {
  const facts = await chartFacts(db, key);
  if (!facts) return null;
  const { zone, decimal_mark } = (await rulesInForce(db)).rules;
  const { points, limits, signals } = await chartState(db, key, onPaper);
  const versions = await chartVersions(db, key);
  const [first, last] = [points[0], points.at(-1)];
  const unit = facts.unit === "pH" ? "" : facts.unit;
  const n = (value: number) => formatNumber(value, facts.decimals);
  const withUnit = (value: number) => `${n(value)}${unit && ` ${unit}`}`;
  const signalled = new Map<string, string[]>();
  for (const { id, rule } of signals) signalled.set(id, [...(signalled.get(id) ?? []), signalWords[rule]]);
  const number = new Map(points.map((p, i) => [p.id, i + 1]));
  const plot: Plot | null =
    !first || !last
      ? null
      : {
          title: `${key.analyte}${unit && `, ${unit}`}`,
          words: `${key.code}, ${counted(points.length, "result")}, the last ${withUnit(last.value)}; ${
            limits
              ? `centre ${n(limits.centre)}, action limits ${n(limits.action_low)} and ${n(limits.action_high)}`
              : "no limits set"
          }; ${counted(signals.length, "signal")}.`,
          decimals: facts.decimals,
          from: showDate(localDate(first.measured_at, zone)),
          to: showDate(localDate(last.measured_at, zone)),
          // In their order, not in time: a rule looks at results one after the other.
          points: points.map((p, i) => ({
            at: points.length > 1 ? i / (points.length - 1) : 0.5,
            value: p.value,
            marked: signalled.has(p.id),
          })),
          levels: limits
            ? [
                { value: limits.action_high, words: `action ${n(limits.action_high)}`, strong: true },
                { value: limits.warning_high, words: `warning ${n(limits.warning_high)}`, strong: false },
                { value: limits.centre, words: `centre ${n(limits.centre)}`, strong: true },
                { value: limits.warning_low, words: `warning ${n(limits.warning_low)}`, strong: false },
                { value: limits.action_low, words: `action ${n(limits.action_low)}`, strong: true },
              ]
            : [],
          band: null,
        };
  const report: Report = {
    kind: "control chart",
    title: `${key.code}, ${key.analyte}`,
    number: `with ${facts.instrument}`,
    facts: [
      ["Results", points.length === onPaper ? `the newest ${onPaper}` : counted(points.length, "result")],
      [
        "Limits",
        limits
          ? `centre ${withUnit(limits.centre)}, s ${formatNumber(limits.sigma, facts.decimals + 1)}; warning ${n(limits.warning_low)} to ${n(limits.warning_high)}, action ${n(limits.action_low)} to ${n(limits.action_high)}`
          : "none set yet",
      ],
      ["Signals", signals.length ? counted(signals.length, "signal") : "none"],
      ["Times", `local, ${zone}`],
    ],
    sections: [
      ...(plot ? [{ title: "Results in their order", plots: [plot] }] : []),
      ...(versions.length
        ? [
            {
              title: "Limits and their history",
              table: {
                columns: ["Set", "By", "Centre", "s", "From", "Why"],
                shares: [18, 16, 10, 10, 18, 34],
                rows: versions.map((v) => [
                  showTime(v.at, zone, "full"),
                  v.by,
                  n(v.document.centre),
                  formatNumber(v.document.sigma, facts.decimals + 1),
                  counted(v.document.study.length, "result"),
                  v.reason,
                ]),
              },
            },
          ]
        : []),
      {
        title: "Results",
        table: {
          columns: ["No.", "When", "Result", "Verdict", "Signal", "Cause"],
          shares: [7, 20, 14, 12, 30, 30],
          rows: points.map((p) => [
            String(number.get(p.id)),
            showTime(p.measured_at, zone, "both"),
            withUnit(p.value),
            p.verdict,
            signalled.get(p.id)?.join("; ") ?? "",
            p.cause ?? "",
          ]),
        },
      },
    ],
    closing: [
      "A square marks a result that completes a signal. Signals are read by the limits that are in force now.",
    ],
  };
  return inHouse(report, decimal_mark);
}

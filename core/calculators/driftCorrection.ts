import { z } from "zod";
import { assessDrift, correctForDrift, driftQuantities, driftShare } from "../calibration/drift";
import { formatNumber, formatSigned } from "../quantity/format";
import { formatMeasured, measurandFacts } from "../quantity/measurand";
import { defineCalculator } from "./define";

/** What has no negative values must not get any by being corrected. */
const impossible = (quantity: string, corrected: readonly number[]) =>
  (quantity === "oxygen" || quantity === "conductivity") && corrected.some((value) => value < 0)
    ? [
        {
          code: "impossible",
          message:
            "A corrected value is below zero, which no water has: the check does not fit these readings.",
        },
      ]
    : [];

const moment = z.iso.datetime({ offset: true, error: "Give a time like 2026-04-12T08:00:00Z." });

/** Drift, grade and corrected readings of a meter whose check was off. Check value: halfway to +0.30 pH takes 0.15 off. */
export const driftCorrectionCalculator = defineCalculator({
  id: "drift-correction",
  title: "Drift correction",
  purpose: "See what a check that was off means for the readings since the meter was last right.",
  input: z
    .object({
      quantity: z.enum(driftQuantities).meta({ title: "What was measured" }),
      readings: z
        .array(z.object({ at: moment.meta({ title: "When" }), value: z.number().meta({ title: "Value" }) }))
        .min(1)
        .max(20_000)
        .meta({ title: "Readings" }),
      last_good_at: moment.meta({ title: "Last time it was right" }),
      check_at: moment.meta({ title: "Time of the check" }),
      check_true: z.number().meta({ title: "True value of the check standard" }),
      check_read: z.number().meta({ title: "What the meter read" }),
    })
    .refine((i) => Date.parse(i.check_at) > Date.parse(i.last_good_at), {
      path: ["check_at"],
      error: "The check comes after the last good point.",
    }),
  output: z.object({
    drift: z.number(),
    correct: z.boolean(),
    grade: z.enum(["excellent", "good", "fair", "poor"]),
    corrected: z.array(z.number()),
    drift_percent: z.number().nullable(),
    limit: z.number(),
  }),
  sources: ["Wagner et al. 2006, USGS Techniques and Methods 1-D3"],
  example: {
    quantity: "ph",
    readings: [
      { at: "2026-04-12T09:00:00Z", value: 7.62 },
      { at: "2026-04-12T12:00:00Z", value: 8.05 },
    ],
    last_good_at: "2026-04-12T08:00:00Z",
    check_at: "2026-04-12T16:00:00Z",
    check_true: 7.0,
    check_read: 7.3,
  },
  compute({ quantity, readings, last_good_at, check_at, check_true, check_read }) {
    if (quantity === "conductivity" && !(check_true > 0 && check_read > 0)) {
      return {
        problems: [
          {
            path: check_true > 0 ? "check_read" : "check_true",
            message: "A conductivity is corrected in proportion, so the check needs values above zero.",
          },
        ],
      };
    }
    const drift = assessDrift(quantity, check_true, check_read);
    const shares = readings.map((r) => driftShare(r.at, last_good_at, check_at));
    const corrected = readings.map((r, i) => correctForDrift(r.value, drift, shares[i] as number));
    const facts = measurandFacts[quantity];
    const decimals = facts.decimals + 1;
    const outside = readings.filter(
      (r) => Date.parse(r.at) < Date.parse(last_good_at) || Date.parse(r.at) > Date.parse(check_at),
    ).length;
    return {
      outputs: {
        drift: drift.drift,
        correct: drift.correct,
        grade: drift.grade,
        corrected,
        drift_percent: Number.isFinite(drift.driftPercent) ? drift.driftPercent : null,
        limit: drift.limit,
      },
      working: [
        quantity === "conductivity"
          ? "corrected = value · (1 + share · (true / read − 1)); share runs from 0 at the last good point to 1 at the check"
          : "corrected = value − share · drift; share runs from 0 at the last good point to 1 at the check",
        `drift = ${formatMeasured(check_read, quantity, decimals)} − ${formatMeasured(check_true, quantity, decimals)} = ${formatSigned(drift.drift, decimals)} ${facts.unit}${quantity === "conductivity" ? ` = ${formatSigned(drift.driftPercent, 1)} %` : ""}`,
        `records are corrected beyond ${formatNumber(drift.limit, 2)} ${facts.unit}: ${drift.correct ? "correct them" : "leave them"}; grade ${drift.grade}`,
        ...readings
          .slice(0, 20)
          .map(
            (r, i) =>
              `${r.at}: share ${formatNumber(shares[i] as number, 3)}, ${formatMeasured(r.value, quantity, decimals)} → ${formatMeasured(corrected[i] as number, quantity, decimals)}`,
          ),
        ...(readings.length > 20 ? [`and ${readings.length - 20} more`] : []),
      ],
      warnings: [
        ...impossible(quantity, corrected),
        ...(outside
          ? [
              {
                code: "outside-interval",
                message: `${outside} of the readings lie outside the time between the last good point and the check; the nearest end is used for them.`,
              },
            ]
          : []),
        ...(drift.correct
          ? []
          : [
              {
                code: "within-limit",
                message: "The drift is within the limit. The corrected values are shown all the same.",
              },
            ]),
      ],
    };
  },
});

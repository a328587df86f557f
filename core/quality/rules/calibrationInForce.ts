import dayjs from "dayjs";
import timezone from "dayjs/plugin/timezone";
import utc from "dayjs/plugin/utc";
import { within } from "../../quantity/compare";
import { formatNumber } from "../../quantity/format";
import type { ReadingEvidence, ReadingRule } from "../evidence";
import type { Finding } from "../finding";

dayjs.extend(utc);
dayjs.extend(timezone);

/** A moment as people in the organisation's zone say it. */
const moment = (iso: string, zone: string) => dayjs(iso).tz(zone).format("D MMM YYYY, HH:mm");

/** A reading needs a calibration that is in force, may be used, and brackets what was read. */
export const judgeCalibrationInForce: ReadingRule = (evidence, { zone }) => {
  const { calibration } = evidence;
  if (!calibration) {
    return [
      {
        rule: "no-calibration",
        severity: "hold",
        measured: "none",
        limit: "a calibration of the day",
        sentence: `${evidence.meter.code} had no calibration when this was read.`,
        action: `Calibrate ${evidence.meter.code}, then measure the sample again while it keeps.`,
      },
    ];
  }
  const expired = calibration.valid_until < evidence.taken_at;
  return [
    {
      rule: "calibration-in-force",
      severity: expired ? "hold" : "ok",
      measured: moment(calibration.finished_at, zone),
      limit: `valid until ${moment(calibration.valid_until, zone)}`,
      sentence: expired
        ? `The calibration of ${evidence.meter.code} had run out.`
        : `${evidence.meter.code} was calibrated on ${moment(calibration.finished_at, zone)}.`,
      action: expired ? `Calibrate ${evidence.meter.code} and measure the sample again.` : "",
    },
    judgeVerdict(evidence, calibration),
    ...calibration.points.filter((p) => p.role === "point" && p.lot_condition !== "good").map(judgeLot),
    judgeBracket(evidence, calibration),
  ];
};

function judgeVerdict(
  evidence: ReadingEvidence,
  calibration: NonNullable<ReadingEvidence["calibration"]>,
): Finding {
  const { verdict } = calibration;
  return {
    rule: "calibration-verdict",
    severity: verdict === "sound" ? "ok" : verdict === "qualified" ? "qualify" : "hold",
    measured: `${verdict}, slope ${formatNumber(calibration.slope_percent, 1)} %, offset ${formatNumber(calibration.offset_mv, 1)} mV`,
    limit: "sound",
    sentence:
      verdict === "sound"
        ? "The calibration in force is sound."
        : verdict === "qualified"
          ? "The calibration in force is usable with a note."
          : "The calibration in force failed.",
    action:
      verdict === "sound"
        ? ""
        : verdict === "qualified"
          ? "See the calibration for what to mend before the next one."
          : `Do not use ${evidence.meter.code}. Calibrate it again or take another meter.`,
  };
}

const judgeLot = (point: NonNullable<ReadingEvidence["calibration"]>["points"][number]): Finding => ({
  rule: `lot-${point.lot_condition}`,
  severity: point.lot_condition === "withdrawn" ? "hold" : "qualify",
  measured: `lot ${point.lot_code}: ${point.lot_sentence}`,
  limit: "in date, not withdrawn",
  sentence: `The calibration used buffer ${formatNumber(point.buffer_ph, 2)} of lot ${point.lot_code}. ${point.lot_sentence}${point.reason_for_use ? ` Used because: ${point.reason_for_use}` : ""}`,
  action: "Calibrate again with a lot that is in date.",
});

function judgeBracket(
  evidence: ReadingEvidence,
  calibration: NonNullable<ReadingEvidence["calibration"]>,
): Finding {
  const values = evidence.portions.map((p) => p.ph);
  const inside = values.every((ph) => within(ph, calibration.lowest_ph, calibration.highest_ph));
  const bracket = `${formatNumber(calibration.lowest_ph, 2)} – ${formatNumber(calibration.highest_ph, 2)}`;
  const outside = values.find((ph) => !within(ph, calibration.lowest_ph, calibration.highest_ph));
  const below = outside !== undefined && outside < calibration.lowest_ph;
  return {
    rule: "outside-bracket",
    severity: inside ? "ok" : "qualify",
    measured: values.map((ph) => `pH ${formatNumber(ph, 2)}`).join(", "),
    limit: `between the buffers ${bracket}`,
    sentence: inside
      ? `The reading lies between the buffers ${bracket}.`
      : `The reading lies outside the buffers ${bracket}: the line was not drawn there.`,
    action: inside
      ? ""
      : `Calibrate with a buffer ${below ? "below" : "above"} pH ${formatNumber(outside ?? 0, 1)} and measure again.`,
  };
}

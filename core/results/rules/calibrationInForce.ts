import type { Finding } from "../../judgement/finding";
import { within } from "../../quantity/compare";
import { formatMeasured, measurandFacts, merelyChecked } from "../../quantity/measurand";
import type { HouseRules } from "../../rules/houseRules";
import { localDate } from "../../time/local";
import { showTime } from "../../time/words";
import type { EvidencePoint, ReadingEvidence, ReadingRule } from "../evidence";

/** The same calibration stands behind hundreds of readings, and a moment in a zone is slow to write. */
const moments = new Map<string, string>();

/** A moment as people in the organisation's zone say it. */
function moment(iso: string, zone: string): string {
  const key = `${iso} ${zone}`;
  const known = moments.get(key);
  if (known !== undefined) return known;
  const written = showTime(iso, zone, "full");
  if (moments.size >= 500) moments.clear();
  moments.set(key, written);
  return written;
}

type InForce = NonNullable<ReadingEvidence["calibration"]>;

/** A reading needs a calibration that is in force, may be used, and brackets what was read. */
export const judgeCalibrationInForce: ReadingRule = (evidence, rules) => {
  const { zone } = rules;
  const { calibration, meter, parameter } = evidence;
  const checked = merelyChecked.has(parameter);
  const { word } = measurandFacts[parameter];
  const act = checked ? "Check" : "Calibrate";
  const severity = checked ? "qualify" : "hold";
  if (!calibration) {
    return [
      {
        rule: "no-calibration",
        severity,
        measured: "none",
        limit: checked ? "a check in date" : "a calibration in force",
        sentence: `${meter.code} had no ${checked ? "check" : "calibration"} of ${word} when this was read.`,
        action: `${act} ${meter.code} for ${word}, then measure the sample again while it keeps.`,
      },
    ];
  }
  const expired = calibration.valid_until < evidence.measured_at;
  return [
    {
      rule: "calibration-in-force",
      severity: expired ? severity : "ok",
      measured: moment(calibration.finished_at, zone),
      limit: `valid until ${moment(calibration.valid_until, zone)}`,
      sentence: expired
        ? `The ${checked ? "check" : "calibration"} of ${meter.code} for ${word} had run out.`
        : `${meter.code} was ${checked ? "checked" : "calibrated"} for ${word} on ${moment(calibration.finished_at, zone)}.`,
      action: expired ? `${act} ${meter.code} and measure the sample again.` : "",
    },
    ...judgeDailyCheck(evidence, calibration, rules),
    judgeVerdict(evidence, calibration),
    ...calibration.points.filter((p) => p.role !== "check" && p.lot_condition !== "good").map(judgeLot),
    ...judgeElectrolyte(calibration),
    ...judgeBracket(evidence, calibration),
  ];
};

/** Under the rule "weekly with a daily check" a calibration of another day needs a check of this one. */
function judgeDailyCheck(
  { measured_at, meter, parameter }: ReadingEvidence,
  calibration: InForce,
  { zone, calibration: rule }: HouseRules,
): Finding[] {
  if (rule.interval !== "week-with-daily-check" || merelyChecked.has(parameter)) return [];
  const day = (iso: string) => localDate(iso, zone);
  const today = day(measured_at);
  const checked = calibration.checked_at !== null && day(calibration.checked_at) === today;
  if (day(calibration.finished_at) === today) return [];
  return [
    {
      rule: "daily-check",
      severity: checked ? "ok" : "hold",
      measured: calibration.checked_at === null ? "no check" : moment(calibration.checked_at, zone),
      limit: "a check on the day of use",
      sentence: checked
        ? `${meter.code} was checked on the day.`
        : `${meter.code} was calibrated on another day and not checked on this one.`,
      action: checked ? "" : `Check ${meter.code} with a standard, then measure the sample again.`,
    },
  ];
}

function judgeVerdict(evidence: ReadingEvidence, calibration: InForce): Finding {
  const { verdict } = calibration;
  return {
    rule: "calibration-verdict",
    severity: verdict === "sound" ? "ok" : verdict === "qualified" ? "qualify" : "hold",
    measured: `${verdict}: ${calibration.headline}`,
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

/** What a sensor was filled with that is not trusted any more. */
const judgeElectrolyte = ({ electrolyte }: InForce): Finding[] =>
  electrolyte?.doubt
    ? [
        {
          rule: "lot-withdrawn",
          severity: "hold",
          measured: `electrolyte ${electrolyte.code}`,
          limit: "not withdrawn",
          sentence: `The sensor was filled from ${electrolyte.code}. ${electrolyte.doubt}`,
          action: "Renew the electrolyte, let it rest, calibrate again.",
        },
      ]
    : [];

const judgeLot = (point: EvidencePoint): Finding => ({
  rule: `lot-${point.lot_condition}`,
  severity: point.lot_condition === "withdrawn" ? "hold" : "qualify",
  measured: `lot ${point.lot_code}: ${point.lot_sentence}`,
  limit: "in date, not withdrawn",
  sentence: `The calibration used ${point.name} of lot ${point.lot_code}. ${point.lot_sentence}${point.reason_for_use ? ` Used because: ${point.reason_for_use}` : ""}`,
  action: "Calibrate again with a lot that is in date.",
});

function judgeBracket({ portions, parameter }: ReadingEvidence, { low, high }: InForce): Finding[] {
  if (low === null || high === null) return [];
  const values = portions.map((p) => p.value);
  const outside = values.find((v) => !within(v, low, high));
  const plain = (v: number) => formatMeasured(v, parameter).replace(/^pH /, "");
  const bracket = `${plain(low)} – ${plain(high)}`;
  const standards = parameter === "ph" ? "buffers" : "standards";
  const fine = outside === undefined;
  return [
    {
      rule: "outside-bracket",
      severity: fine ? "ok" : "qualify",
      measured: values.map((v) => formatMeasured(v, parameter)).join(", "),
      limit: `between the ${standards} ${bracket}`,
      sentence: fine
        ? `The reading lies between the ${standards} ${bracket}.`
        : `The reading lies outside the ${standards} ${bracket}: the line was not drawn there.`,
      action: fine
        ? ""
        : `Calibrate with a ${standards.slice(0, -1)} ${outside < low ? "below" : "above"} ${formatMeasured(outside, parameter, 1).replace(".0 µ", " µ")} and measure again.`,
    },
  ];
}

import { resolveDuplicates, showDuplicateRule } from "../../judgement/duplicates";
import type { Finding } from "../../judgement/finding";
import { formatMeasured } from "../../quantity/measurand";
import { showTime } from "../../time/words";
import { measuredValue, type ReadingRule } from "../evidence";

/**
 * Judges a reading whose signal was turned into a value by a calibration of before, since the one in force was not known yet where it was
 * begun: what the one in force would have given is as good as a portion more. Nothing where both give the same.
 * Source: house rule of duplicates. Check value: pH 8.05 where the calibration in force gives 7.94 is qualified at 0.1 pH.
 */
export const judgeReadWith: ReadingRule = (evidence, { zone }): Finding[] => {
  const { read_with, parameter, duplicate, calibration } = evidence;
  const value = measuredValue(evidence);
  if (!read_with || !calibration || value === null || read_with.value === null || evidence.amended) return [];
  const fine = resolveDuplicates([value, read_with.value], duplicate).pair !== null;
  const shown = (v: number) => formatMeasured(v, parameter);
  const newer = `With the calibration of ${showTime(calibration.finished_at, zone, "both")}`;
  return [
    {
      rule: "read-with-another-calibration",
      severity: fine ? "ok" : "qualify",
      measured: `${shown(value)} with that of ${showTime(read_with.finished_at, zone, "both")}`,
      limit: `${shown(read_with.value)}, ${showDuplicateRule(duplicate, parameter)}`,
      sentence: fine
        ? `${newer}, which was not known yet, this reads the same.`
        : `${newer} this reads ${shown(read_with.value)}, not ${shown(value)}. It was not known yet when this was begun.`,
      action: fine ? "" : "Amend the value, or measure the sample again.",
    },
  ];
};

import type { ReadingEvidence } from "../../../core/results/evidence";
import type { Reading } from "../results/readings.server";

/** The evidence of a reading that a test knows was made with a meter. */
export function meterEvidence(reading: Reading | undefined): ReadingEvidence {
  if (reading?.source !== "meter") throw new Error("This is no reading of a meter.");
  return reading.evidence;
}

import type { SamplingEvidence } from "./rules/sampling";

/** What of a result its bottle has a say in. */
interface FromBottle {
  collected_at: string | null;
  sampling?: SamplingEvidence;
  in_place?: true;
}

/**
 * A result's evidence with what is known of its bottle: its water was taken when the bottle was filled, whatever was typed. What was read
 * with the probe in the water itself came out of no bottle. Check value: typed 8:00, filled 9:00, it was taken at 9:00.
 */
export const ofBottle = <E extends FromBottle>(evidence: E, sampling: SamplingEvidence | undefined): E =>
  sampling && !evidence.in_place ? { ...evidence, sampling, collected_at: sampling.filled_at } : evidence;

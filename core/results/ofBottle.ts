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

/** The evidence of a result that turned out to be of no bottle that is known: nobody knows when its water was taken. Check value: of none, it stays. */
export function ofNoBottle<E extends FromBottle>(evidence: E): E {
  const { sampling, ...rest } = evidence;
  return sampling ? ({ ...rest, collected_at: null } as E) : evidence;
}

import { studentTQuantile } from "../reference/studentT";
import { meanOf, sdOf } from "./spread";

/** So many low replicates at least. */
export const fewestReplicates = 7;

/**
 * Detection limit of replicates of a low standard: t(0.99, n − 1) · s. Units: of the replicates. For at least 7.
 * Source: 40 CFR 136 Appendix B. Check value: t for 7 replicates is 3.143.
 */
export function detectionLimit(replicates: readonly number[]): {
  sd: number;
  t: number;
  detection_limit: number;
} {
  const sd = sdOf(replicates);
  const t = studentTQuantile(0.99, replicates.length - 1);
  return { sd, t, detection_limit: t * sd };
}

/** Why a limit that was found is not worth much, with what to do about it. */
export interface StudyFault {
  code: "no-spread" | "too-strong" | "too-weak";
  message: string;
}

/**
 * What is wrong with a study: replicates that do not differ at all, or a standard outside of one to ten times the limit found; null where
 * nothing is. Source: 40 CFR 136 Appendix B. Check value: replicates around 1 with a limit of 0.05 are of a standard that is too strong.
 */
export function studyFault(replicates: readonly number[]): StudyFault | null {
  const { sd, detection_limit } = detectionLimit(replicates);
  const mean = meanOf(replicates);
  if (!(sd > 0))
    return { code: "no-spread", message: "They do not differ at all: is the resolution too coarse?" };
  if (mean > 10 * detection_limit)
    return {
      code: "too-strong",
      message: "The standard is more than ten times the limit found: take a weaker one and do it again.",
    };
  if (mean < detection_limit)
    return {
      code: "too-weak",
      message: "The standard is below the limit found: take a stronger one and do it again.",
    };
  return null;
}

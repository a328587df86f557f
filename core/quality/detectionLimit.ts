import { studentTQuantile } from "../reference/studentT";
import { sdOf } from "./spread";

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

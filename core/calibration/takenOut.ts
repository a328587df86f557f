import type { TakenOut } from "../bench/takenOut";
import type { Finding } from "../judgement/finding";

/** By which a calibration that was taken out is told from one that failed. */
const rule = "taken-out";

/**
 * What stands against a calibration that was made wrong: it holds, whatever it found. Source: common practice (a record that is known to be
 * wrong is not used, and not erased). Check value: "another buffer stood in the cup" makes a sound calibration a failed one.
 */
export const takenOutFinding = ({ by, reason }: TakenOut): Finding => ({
  rule,
  severity: "hold",
  measured: "taken out",
  limit: "a calibration that was made as it says",
  sentence: `${by} took it out: ${reason}`,
  action: "Calibrate again.",
});

/** Whether a calibration was taken out. */
export const isTakenOut = (findings: readonly Pick<Finding, "rule">[]): boolean =>
  findings.some((f) => f.rule === rule);

import type { FaultKind } from "./faultKinds";

/** Causes that no simulated sensor has: slips of the hand and of the display. */
type SlipKind = "wrong-buffer" | "frozen-display" | "reference-temperature";

export type Cause = FaultKind | SlipKind;

/** A likely cause, in words, with the evidence that led to it. */
export interface Diagnosis {
  cause: Cause;
  sentence: string;
  action: string;
  evidence: string[];
}

/** Above this many seconds a sensor in a fresh solution counts as slow. Source: common practice. */
export const slowSeconds = 120;

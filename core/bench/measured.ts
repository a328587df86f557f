import type { Measurand } from "../quantity/measurand";
import type { Capture, Measured } from "./capture";

/** What a capture holds of one measurand. */
export const measuredOf = (capture: Capture, measurand: Measurand): Measured | undefined =>
  capture.values.find((v) => v.measurand === measurand);

/** A value of a capture with nothing but what is given. */
export const measured = (measurand: Measurand, change: Partial<Measured>): Measured => ({
  measurand,
  signal: null,
  displayed: null,
  adjusted: null,
  reference: null,
  scatter: null,
  per_min: null,
  ...change,
});

import type { Finding } from "../../judgement/finding";
import { duration } from "../../time/words";
import { fine } from "./analysisWords";
import type { SamplingEvidence } from "./sampling";

/** What of a result says how long its water had waited. */
interface Waited {
  collected_at: string | null;
  measured_at: string;
  sampling?: SamplingEvidence;
}

/**
 * Judges how long a water waited against how long it keeps for what is measured of it, minutes; nothing where nobody said when it was taken,
 * or where it keeps as long as one likes. A bottle whose document names the test knows better: that is judged by the bottle.
 * Source: 40 CFR 136.3, table II. Check value: pH, which keeps 15 min, is late when it is measured 16 min after the bottle was filled.
 */
export function judgeKeeping(
  { collected_at, measured_at, sampling }: Waited,
  keeps_min: number | null | undefined,
): Finding[] {
  if (!collected_at || !keeps_min || sampling?.names_test) return [];
  const waited = Math.max(0, (Date.parse(measured_at) - Date.parse(collected_at)) / 1000);
  const keeps = keeps_min * 60;
  const measured = `measured ${duration(waited)} after it was taken`;
  const limit = `within ${duration(keeps)}`;
  if (waited <= keeps)
    return [fine("holding-time", measured, limit, "The sample was measured while it keeps.")];
  return [
    {
      rule: "holding-time",
      severity: "qualify",
      measured,
      limit,
      sentence: "The sample waited longer than it keeps.",
      action: "Take new water and measure it in time if the result matters.",
    },
  ];
}

import { within } from "../../quantity/compare";
import { formatNumber } from "../../quantity/format";
import type { ReadingRule } from "../evidence";
import type { Finding } from "../finding";

/** Each portion: captured when steady, rinsed before, at a temperature the meter can compensate. */
export const judgeCaptures: ReadingRule = (evidence, rules) => {
  const { portions } = evidence;
  const unsteady = portions.filter((p) => p.steady === false);
  const untimed = portions.filter((p) => p.steady === null);
  const unrinsed = portions.filter((p) => !p.rinsed);
  const [coldest, hottest] = rules.ph.sample_temperature_c;
  const outside = portions.filter((p) => !within(p.temperature_c, coldest, hottest));
  const temperatures = portions.map((p) => `${formatNumber(p.temperature_c, 1)} °C`).join(", ");
  const steadyRule = `below ${rules.ph.steady.slope_ph_per_min} pH/min over ${rules.ph.steady.window_s} s`;
  const findings: Finding[] = [
    {
      rule: "captured-unsteady",
      severity: unsteady.length ? "qualify" : "ok",
      measured: unsteady.length
        ? `${unsteady.length} of ${portions.length} still moving`
        : untimed.length
          ? "typed; steady by the technician's eye"
          : "steady",
      limit: steadyRule,
      sentence: unsteady.length
        ? "A portion was captured before it was steady."
        : untimed.length
          ? "Typed from the display by the technician."
          : "Every portion was steady when it was captured.",
      action: unsteady.length ? "Measure again and wait until it is steady." : "",
    },
    {
      rule: "sample-temperature",
      severity: outside.length ? "qualify" : "ok",
      measured: temperatures,
      limit: `${coldest} – ${hottest} °C`,
      sentence: outside.length
        ? "The sample's temperature is outside what the probe is made for."
        : "The sample's temperature is within the probe's range.",
      action: outside.length ? "Bring the sample nearer to room temperature and measure again." : "",
    },
  ];
  if (unrinsed.length) {
    findings.push({
      rule: "rinse-skipped",
      severity: "qualify",
      measured: `${unrinsed.length} of ${portions.length} not ticked`,
      limit: "rinse before each portion",
      sentence: "A rinse was not ticked.",
      action: "Rinse with the sample and measure again if the last solution may have clung to the probe.",
    });
  }
  return findings;
};

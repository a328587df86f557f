import type { Finding } from "../../judgement/finding";
import { within } from "../../quantity/compare";
import { formatNumber } from "../../quantity/format";
import { measurandFacts } from "../../quantity/measurand";
import type { ReadingRule } from "../evidence";

/** Compensation is trusted in this range, °C; between it and the rule's limits it is merely good. Source: common practice. */
const trusted = [15, 25] as const;

/** Each portion: captured when steady, rinsed before, at a temperature the meter can compensate. */
export const judgeCaptures: ReadingRule = (evidence, rules) => {
  const { portions, parameter } = evidence;
  const { steady, sample_temperature_c } = rules[parameter];
  const unsteady = portions.filter((p) => p.steady === false);
  const untimed = portions.filter((p) => p.steady === null);
  const unrinsed = portions.filter((p) => !p.rinsed);
  const [coldest, hottest] = sample_temperature_c;
  const outside = portions.filter((p) => !within(p.temperature_c, coldest, hottest));
  const temperatures = portions.map((p) => `${formatNumber(p.temperature_c, 1)} °C`).join(", ");
  const relative = parameter === "conductivity" || parameter === "volume";
  const unit = relative ? "%" : measurandFacts[parameter].unit;
  const findings: Finding[] = [
    {
      rule: "captured-unsteady",
      severity: unsteady.length ? "qualify" : "ok",
      measured: unsteady.length
        ? `${unsteady.length} of ${portions.length} still moving`
        : untimed.length
          ? "typed; steady by the technician's eye"
          : "steady",
      limit: `below ${steady.per_min} ${unit}/min over ${steady.window_s} s`,
      sentence: unsteady.length
        ? "A portion was captured before it was steady."
        : untimed.length
          ? "Typed from the display by the technician."
          : "Every portion was steady when it was captured.",
      action: unsteady.length ? "Measure again and wait until it is steady." : "",
    },
  ];
  if (parameter === "conductivity")
    findings.push(judgeCompensation(evidence, outside.length > 0, temperatures, sample_temperature_c));
  else if (parameter !== "temperature") {
    findings.push({
      rule: "sample-temperature",
      severity: outside.length ? "qualify" : "ok",
      measured: temperatures,
      limit: `${coldest} – ${hottest} °C`,
      sentence: outside.length
        ? "The sample's temperature is outside what the probe is made for."
        : "The sample's temperature is within the probe's range.",
      action: outside.length ? "Bring the sample nearer to room temperature and measure again." : "",
    });
  }
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

function judgeCompensation(
  { portions, compensation }: Parameters<ReadingRule>[0],
  outside: boolean,
  temperatures: string,
  [coldest, hottest]: readonly [number, number],
): Finding {
  const best = portions.every((p) => within(p.temperature_c, ...trusted));
  return {
    rule: "compensation",
    severity: outside ? "qualify" : "ok",
    measured: `${temperatures}; ${compensation ?? "at 25 °C as shown"}`,
    limit: `${coldest} – ${hottest} °C`,
    sentence: outside
      ? "So far from 25 °C the compensation is a guess."
      : best
        ? "The compensation to 25 °C is trusted at this temperature."
        : "The compensation to 25 °C is good at this temperature, best between 15 and 25 °C.",
    action: outside ? "Let the sample come to room temperature and measure again." : "",
  };
}

import type { Finding } from "../judgement/finding";
import { formatNumber } from "../quantity/format";

/**
 * What the temperature on receipt (°C; null when nobody measured it) says of a bottle that may be so warm at most (null when it does
 * not matter). Source: common practice: at most 6 °C, microbiology below 10 °C. Check value: 9.4 °C where 6 °C is allowed is qualified.
 */
export function arrivalFindings(temperature_c: number | null, arrives_c: number | null): Finding[] {
  if (arrives_c === null) return [];
  const limit = `${formatNumber(arrives_c, 0)} °C`;
  if (temperature_c === null) {
    return [
      {
        rule: "arrival-not-measured",
        severity: "qualify",
        measured: "no temperature",
        limit,
        sentence: "Nobody measured how warm it was when it was received.",
        action: "Ask for the temperature on receipt; measure the cooler next time.",
      },
    ];
  }
  if (temperature_c <= arrives_c) return [];
  const measured = `${formatNumber(temperature_c, 1)} °C`;
  return [
    {
      rule: "warm-on-arrival",
      severity: "qualify",
      measured,
      limit,
      sentence: `It was at ${measured} when it was received, and may be at ${limit} at most.`,
      action: "Fresh ice right before it leaves, more of it, and the bottles in the middle.",
    },
  ];
}

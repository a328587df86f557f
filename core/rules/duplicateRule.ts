import type { DuplicateRule } from "../judgement/duplicates";
import type { Measurand } from "../quantity/measurand";
import type { HouseRules } from "./houseRules";

/**
 * The duplicate rule of a measurand. Never relative where the scale has no true zero: pH, temperature, redox.
 * Source: house rule. Check value: pH by default is absolute, 0.1.
 */
export function duplicateRule(measurand: Measurand, rules: HouseRules): DuplicateRule {
  const absolute = (limit: number): DuplicateRule => ({ kind: "absolute", limit });
  const relative = (limit: number): DuplicateRule => ({ kind: "relative", limit });
  switch (measurand) {
    case "ph":
      return absolute(rules.ph.duplicate_ph);
    case "conductivity":
      return relative(rules.conductivity.duplicate_percent);
    case "oxygen":
      return absolute(rules.oxygen.duplicate_mg_l);
    case "redox":
      return absolute(rules.redox.duplicate_mv);
    case "temperature":
      return absolute(rules.temperature.duplicate_c);
    case "absorbance":
      return absolute(rules.absorbance.duplicate_a);
    case "volume":
      return relative(rules.volume.duplicate_percent);
  }
}

import type { Method } from "../methods/method";
import { counted, formatNumber, formatOwnDigits } from "../quantity/format";
import { showFound } from "../quantity/found";
import type { HouseRules } from "../rules/houseRules";
import type { PractisedEnd, PractisedResult } from "./practiceRun";
import { smallestDose } from "./practiceWater";

/** What a titration is counted in. */
const countedIn: Partial<Record<Method["measure"]["technique"], string>> = { drops: "drop", digits: "digit" };

/**
 * How a titration ended, in words. Check values: two drops too many are "2 drops past the end point"; a burette's 0.15 mL too many of 0.05 mL
 * each are "0.15 mL past the end point".
 */
export function endWords(method: Method, { doses }: Pick<PractisedEnd, "doses">): string {
  if (doses === 0) return "ended with the right drop";
  const one = countedIn[method.measure.technique];
  const { technique } = method.measure;
  const unit = technique === "burette" ? "mL" : method.result.unit;
  const much = one
    ? counted(Math.abs(doses), one)
    : `${formatOwnDigits(Number((Math.abs(doses) * smallestDose(method)).toPrecision(6)))} ${unit}`;
  return doses > 0 ? `${much} past the end point` : `${much} before the end point`;
}

/** What the water held, as a result of its method is written, with a digit more where that says more. In the unit of the result. */
export const heldWords = ({ held, result }: Pick<PractisedResult, "held" | "result">): string =>
  `${formatNumber(held, result.decimals + 1)} ${result.unit}`;

/**
 * A practised result beside the water, in one sentence. Check value: 7 found of 6.4 mg/L held is "7 mg/L found, 6.4 mg/L held: as near as it
 * can be told".
 */
export function outcomeWords(practised: PractisedResult, rules: Pick<HouseRules, "analysis">): string {
  const { result, found, off, near } = practised;
  if (!found || off === null) return "No result: no two readings agree.";
  const said = `${showFound(found, result.decimals, rules.analysis)} ${result.unit} found, ${heldWords(practised)} held`;
  if (near) return `${said}: as near as it can be told.`;
  const by = formatNumber(Math.abs(off), result.decimals + 1);
  return `${said}: ${by} ${result.unit} too ${off > 0 ? "much" : "little"}.`;
}

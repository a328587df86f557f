import type { ColourStep, Method } from "../methods/method";
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
const heldWords = ({ held, result }: Pick<PractisedResult, "held" | "result">): string =>
  `${formatNumber(held, result.decimals + 1)} ${result.unit}`;

/**
 * A practised result beside the water, in one sentence. Check value: 7 found of 6.4 mg/L held is "7 mg/L found, 6.4 mg/L held: within what
 * the method allows".
 */
export function outcomeWords(practised: PractisedResult, rules: Pick<HouseRules, "analysis">): string {
  const { result, found, off, near } = practised;
  if (!found || off === null) return "No result: no two readings agree.";
  const said = `${showFound(found, result.decimals, rules.analysis)} ${result.unit} found, ${heldWords(practised)} held`;
  if (near) return `${said}: within what the method allows.`;
  const by = formatNumber(Math.abs(off), result.decimals + 1);
  return `${said}: ${by} ${result.unit} too ${off > 0 ? "much" : "little"}.`;
}

/** Where a colour stands on its scale, in words. In the unit of the scale. Check value: 2.5 is "between 2 and 4, nearer the first". */
export function scaleWords(steps: readonly ColourStep[], shown: number): string {
  const name = (step: ColourStep | undefined) => step?.printed ?? String(step?.value ?? "");
  const below = steps.findLast((s) => s.value <= shown);
  const above = steps.find((s) => s.value > shown);
  if (!above) return `It is as dark as ${name(below)}, or darker.`;
  if (!below) return `It is lighter than ${name(above)}.`;
  const nearer = shown - below.value < above.value - shown ? "first" : "second";
  return `It is between ${name(below)} and ${name(above)}, nearer the ${nearer}.`;
}

/** How well a mark is seen, from 1 to 0, in words. The borders are ours. Check value: 0.6 is "just seen". */
export const seenWords = (seen: number): string =>
  seen > 0.85 ? "plainly seen" : seen > 0.5 ? "just seen" : seen > 0.12 ? "hardly there" : "gone";

/**
 * How water that is made turbid in doses of `dose` looks beside a sample, all in one unit: alike within half a dose.
 * Check value: 50 beside 51.9, in doses of 5, is "alike".
 */
export function alikeWords(turbidity: number, sample: number, dose: number): string {
  const apart = turbidity - sample;
  return Math.abs(apart) < dose / 2 ? "alike" : apart < 0 ? "clearer than the sample" : "more turbid";
}

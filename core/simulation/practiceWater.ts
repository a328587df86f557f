import type { ColourStep, Method } from "../methods/method";
import { resultsOf } from "../methods/methodWords";
import { seededRandom } from "../quantity/random";
import type { RunState } from "../runs/runState";
import { amountFor } from "../runs/slowDown";
import { CACO3_MG_PER_MEQ } from "../runs/techniques/gran";
import { simulatedWater } from "./acidTitration";
import { seedOf, simulatedSample } from "./photometer";

/** Water that is made up to practise a method with. */
export interface PracticeWater {
  /** The same seed always gives the same water. */
  seed: string;
  /** What it holds of each result, by parameter, in the unit of the result: hidden until the end. */
  held: Readonly<Record<string, number>>;
}

/**
 * Water for a method, inside what it can show; in the unit of each result. Errors: none.
 * Source: invented. Check value: what a scale of 0 to 12 compares holds between 0.6 and 11.4 for each seed.
 */
export function practiceWater(method: Method, seed: string): PracticeWater {
  const { measure } = method;
  const random = seededRandom(seedOf(seed));
  const held = resultsOf(method).map(({ parameter }): [string, number] => {
    switch (measure.technique) {
      case "strip": {
        const pad = measure.pads.find((p) => p.parameter === parameter);
        return [parameter, somewhereOn(pad?.steps ?? [], random())];
      }
      case "comparator":
        return [
          parameter,
          somewhereOn(measure.scales[Math.floor(random() * measure.scales.length)]?.steps ?? [], random()),
        ];
      case "ph-endpoint":
        return [
          parameter,
          simulatedWater(seed, measure.sample_ml, measure.strength).alkalinity * 1000 * CACO3_MG_PER_MEQ,
        ];
      default:
        return [parameter, simulatedSample(seed, method.range).content];
    }
  });
  return { seed, held: Object.fromEntries(held) };
}

/** A value on a scale, `share` of the way along its steps, a little away from both ends. */
function somewhereOn(steps: readonly ColourStep[], share: number): number {
  const at = (0.05 + 0.9 * share) * (steps.length - 1);
  const below = Math.min(Math.floor(at), steps.length - 2);
  const [from, to] = [steps[below]?.value ?? 0, steps[below + 1]?.value ?? 0];
  return from + (at - below) * (to - from);
}

/** A colour between two others: `share` of the way from the first to the second. */
export interface MixedColour {
  from: string;
  to: string;
  share: number;
}

/**
 * The colour that a value has on a scale: between those of the two steps around it, that of an end beyond it. In the unit of the scale.
 * Source: linear between steps, as a scale is read. Check value: 3 between steps at 2 and 4 is half of the way between their colours.
 */
export function colourOn(steps: readonly ColourStep[], value: number): MixedColour {
  const above = steps.findIndex((s) => s.value >= value);
  const [first, last] = [steps[0], steps.at(-1)];
  if (above === 0 && first) return { from: first.colour, to: first.colour, share: 0 };
  const [low, high] = [steps[above - 1], steps[above]];
  if (!low || !high) return { from: last?.colour ?? "", to: last?.colour ?? "", share: 0 };
  return { from: low.colour, to: high.colour, share: (value - low.value) / (high.value - low.value) };
}

/** How much of a colour is there when it is due. */
const whenDue = 0.95;

/**
 * How far a colour has come, as a part of what it is when due: less before, a little more after. Seconds. A colour that waits for nothing
 * is there. Source: a reaction of the first order of which 95 % is done when it is due; the 95 % are ours.
 * Check value: half of its wait gives 0.82, twice its wait 1.05.
 */
export function developed(after_s: number, due_s: number): number {
  if (due_s <= 0) return 1;
  const left = (1 - whenDue) ** (Math.max(0, after_s) / due_s);
  return (1 - left) / whenDue;
}

/** What a scale shows of a value whose colour has come so far: from the lightest step on. Check value: 4 of a scale from 0, half there, shows 2. */
export const shownOn = (steps: readonly ColourStep[], value: number, part: number): number => {
  const lightest = steps[0]?.value ?? 0;
  return lightest + (value - lightest) * part;
};

/** The smallest amount that a titration lets out: a drop, or what half a division of its scale is. */
export function smallestDose({ measure }: Method): number {
  switch (measure.technique) {
    case "burette":
      return measure.resolution_ml;
    case "syringe":
      return measure.division / 2;
    default:
      return 1;
  }
}

/**
 * What titrating the water takes to its end point: drops, digits, or units of the scale. Null where nothing is titrated to a colour.
 * Source: the method's own formula, the other way round. Check value: 6 mg/L of oxygen at 1 mg/L a drop take 6.
 */
export function endOf(state: RunState, held: number): number | null {
  const { measure } = state.method;
  if (measure.technique === "digits") return held / measure.multiplier;
  return amountFor(state, held);
}

/**
 * How far the colour of a titration has turned, from 0 to 1: half of it at the end point itself, over about the smallest amount that can be let
 * out, or some tenths of a percent of a long titration. Source: the curve of an indicator near its end point is a logistic one; its width is ours.
 * Check value: 0.5 at the end point; less than 0.06 a drop before it, more than 0.94 a drop after.
 */
export function turned(given: number, end: number, smallest: number): number {
  const width = Math.max(0.35 * smallest, 0.002 * end);
  return 1 / (1 + Math.exp(-(given - end) / width));
}

/**
 * Where the tip of a capillary strip stands in this water, in divisions: the strip's table read backwards. Below the table 0.
 * Check value: by a table of 28 at 1 and 55 at 2 divisions, 41.5 stands at 1.5.
 */
export function tipAt(table: readonly { division: number; value: number }[], value: number): number {
  const rows = [...table].sort((a, b) => a.value - b.value);
  const above = rows.findIndex((row) => row.value >= value);
  const [low, high] = [rows[above - 1], rows[above]];
  if (above === 0) return value === high?.value ? high.division : 0;
  if (!low || !high) return rows.at(-1)?.division ?? 0;
  return low.division + ((value - low.value) / (high.value - low.value)) * (high.division - low.division);
}

/**
 * How well a mark is seen through so much water, from 1 to 0: half of it where it is at the limit, gone soon after. Any one unit of length.
 * Source: contrast falls with depth; the steepness is ours. Check value: 0.5 at the limit, below 0.03 a tenth beyond it.
 */
export const markSeen = (depth: number, limit: number): number =>
  1 / (1 + Math.exp((depth - limit) / (0.028 * limit)));

/**
 * How well a mark is seen through turbid water of this strength, from 1 to 0; `top` is the most that the method shows, in the same unit.
 * Source: light falls off exponentially; how fast is ours. Check value: 1 through clear water, 0.08 at the top.
 */
export const markThrough = (turbidity: number, top: number): number => Math.exp((-2.5 * turbidity) / top);

/**
 * Where the scale of a burette stands that was filled for a replicate: somewhere below its mark, as it does when nobody filled it up to it. A
 * syringe is drawn to 0. In the unit of the scale. Source: invented. Check value: never more than 2 mL, in whole smallest doses.
 */
export function filledTo(method: Method, seed: string, replicate: number): number {
  if (method.measure.technique !== "burette") return 0;
  const dose = smallestDose(method);
  const share = seededRandom(seedOf(`${seed} filled ${replicate}`))();
  return Number((Math.round((2 * share) / dose) * dose).toFixed(3));
}

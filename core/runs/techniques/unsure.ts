import { predictConcentration } from "../../calibration/curve";
import type { ColourStep, Method, MethodResult } from "../../methods/method";
import { absorbanceOf, dayCurve } from "./dayCurve";
import type { Gathered, RunContext } from "./evaluate";
import { steepnessAt } from "./table";
import { lessBack, volumeUsed } from "./volumes";

/** One thing by which a reading is unsure, as a standard uncertainty in the unit of the result. */
export interface Unsure {
  what: string;
  u: number;
  /** Whether it is another one in each replicate: a mean of two halves its variance. */
  each: boolean;
  /** How the result hangs on it; it adds, where nothing is said. */
  acts?: "divides";
}

/** Within so many standard deviations lie 95 of a hundred of a normal distribution. */
const NORMAL_95 = 1.96;

const rectangular = (halfWidth: number) => halfWidth / Math.sqrt(3);

/** Half-widths of what a hand can do. Source: common practice. */
const hand = {
  /** A burette read to a fifth of its division of 0.1 mL. */
  burette_ml: 0.02,
  /** Half a drop at the end point. */
  drop_ml: 0.025,
  /** A measured sample, as a share of its volume. */
  sample_share: 0.005,
  /** One digit of a digital titrator. */
  digits: 1,
};

const sampleVolume = (value: number): Unsure => ({
  what: "sample volume",
  u: rectangular(hand.sample_share * value),
  each: true,
  acts: "divides",
});

/** Half the way to the nearest neighbour: a colour that looks like a step may lie anywhere nearer to it than to others. */
function besideStep(steps: readonly ColourStep[], index: number): number | null {
  const at = steps[index]?.value;
  if (at === undefined) return null;
  const gaps = [steps[index - 1], steps[index + 1]].flatMap((s) => (s ? Math.abs(s.value - at) : []));
  return gaps.length ? Math.max(...gaps) / 2 : null;
}

const colour = (steps: readonly ColourStep[] | undefined, index: number): Unsure[] => {
  const half = steps && besideStep(steps, index);
  return half ? [{ what: "between two steps of colour", u: rectangular(half), each: true }] : [];
};

/**
 * By what a reading of a technique is unsure, before the dilution; nothing where the technique does not say. Units: of the result.
 * Source: resolutions and what a hand can do as rectangular limits (JCGM 100, 4.3.7), a curve by its inverse prediction. Check value: a
 * drop of 1 mg/L is unsure by 0.5/√3 = 0.289 mg/L, and its end point once more by as much.
 */
export function unsureBy(
  method: Method,
  result: MethodResult,
  gathered: Gathered,
  context: RunContext,
  value: number,
): Unsure[] {
  const { measure, resolution } = method;
  const raw = gathered.raw[result.parameter];
  switch (measure.technique) {
    case "photometer":
      return [
        { what: "last digit of the display", u: rectangular((resolution * measure.factor) / 2), each: true },
      ];
    case "photometer-curve": {
      if (raw?.kind !== "number") return [];
      if (!context.curve)
        return [
          { what: "last digit of the display", u: rectangular(resolution / 2 / measure.slope), each: true },
        ];
      const absorbed = absorbanceOf(raw.value, measure.signal);
      const fitted = dayCurve(context.curve, measure.signal);
      if (!absorbed.ok || !fitted.ok || fitted.value.degreesOfFreedom < 1) return [];
      const read = predictConcentration(fitted.value, absorbed.value);
      if (!read.ok) return [];
      // Few standards make the interval wide: its width stays what it is, so that twice u holds as much as it.
      return [
        { what: "curve of the day", u: (read.value.high - read.value.low) / 2 / NORMAL_95, each: false },
      ];
    }
    case "comparator":
      return raw?.kind === "colour" ? colour(measure.scales[raw.scale]?.steps, raw.step) : [];
    case "strip":
      return raw?.kind === "colour"
        ? colour(measure.pads.find((p) => p.parameter === result.parameter)?.steps, raw.step)
        : [];
    case "capillary": {
      if (raw?.kind !== "divisions") return [];
      const steepness = steepnessAt(context.table ?? measure.table, raw.value);
      return [{ what: "half a division", u: rectangular((measure.division / 2) * steepness), each: true }];
    }
    case "burette": {
      const used = lessBack(volumeUsed(gathered.volumes), gathered.overshot);
      // Of oxygen no blank is taken away.
      const blank = measure.formula === "oxygen" ? 0 : (context.blank_ml ?? measure.blank_ml);
      if (!used.ok || !(used.value - blank > 0)) return [];
      const perMl = value / (used.value - blank);
      return [
        { what: "burette, read twice", u: Math.SQRT2 * rectangular(hand.burette_ml) * perMl, each: true },
        { what: "half a drop at the end point", u: rectangular(hand.drop_ml) * perMl, each: true },
        sampleVolume(value),
      ];
    }
    case "ph-endpoint":
      return [sampleVolume(value)];
    case "syringe":
      return [
        { what: "syringe, read twice", u: Math.SQRT2 * rectangular(resolution / 2), each: true },
        sampleVolume(value),
      ];
    case "drops": {
      const half = rectangular(measure.per_drop / 2);
      return [
        { what: "whole drops only", u: half, each: true },
        { what: "half a drop at the end point", u: half, each: true },
        sampleVolume(value),
      ];
    }
    case "digits":
      return [
        { what: "a digit at the end point", u: rectangular(hand.digits * measure.multiplier), each: true },
        sampleVolume(value),
      ];
    case "meter":
      return [{ what: "last digit of the display", u: rectangular(resolution / 2), each: true }];
    case "visual":
      return raw?.kind === "depths"
        ? [
            {
              what: "between gone and back",
              u: rectangular((Math.abs(raw.disappears - raw.reappears) / 2) * measure.factor),
              each: true,
            },
          ]
        : [{ what: "last division", u: rectangular(resolution / 2), each: true }];
  }
}

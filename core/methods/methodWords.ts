import { formatOwnDigits } from "../quantity/format";
import { type Measurand, measurandFacts } from "../quantity/measurand";
import type { Method, MethodResult, Technique, WaitStep } from "./method";

/** What is said and summed of a method; pages have this without the schema of the document. */

export const techniqueWords: Record<Technique, string> = {
  photometer: "Photometer",
  "photometer-curve": "Photometer with a curve",
  comparator: "Colour comparator",
  strip: "Test strip",
  capillary: "Capillary strip",
  burette: "Burette",
  syringe: "Direct-reading syringe",
  drops: "Drop count",
  digits: "Digital titrator",
  "ph-endpoint": "Titration with a pH meter",
  meter: "Meter",
  visual: "By eye",
};

/** What a result is called with its species, where that says more. Check value: "Nitrate as NO3-N". */
export const analyteName = ({
  parameter,
  analyte,
  species,
}: Pick<MethodResult, "parameter" | "analyte" | "species">): string =>
  species === analyte || parameter === "oxygen" ? analyte : `${analyte} as ${species}`;

/**
 * As which species something is reported, from what it is called; what a meter measures has a species of its own. Check value:
 * "Nitrate as NO3-N" is reported as NO3-N.
 */
export const speciesNamed = (parameter: string, name: string): string =>
  / as (\S+)$/.exec(name)?.[1] ??
  (parameter in measurandFacts ? measurandFacts[parameter as Measurand].species : name);

/** Between which results a method may be trusted, in its own digits; the names of its pads for a strip of several. Check value: "0.2 – 20 mg/L as NO3-N". */
export function rangeWords({ measure, range, result }: Method): string {
  if (measure.technique === "strip" && measure.pads.length > 1) {
    return measure.pads.map((p) => p.analyte).join(", ");
  }
  const as = result.species === result.unit || result.parameter === "oxygen" ? "" : ` as ${result.species}`;
  return `${formatOwnDigits(range.low)} – ${formatOwnDigits(range.high)} ${result.unit}${as}`;
}

/** Minutes that a method takes of the clock, its waits and its handling. */
export const minutesOf = ({ steps }: Method): number =>
  Math.ceil(steps.reduce((sum, s) => sum + (s.kind === "wait" ? s.seconds : s.hands_s), 0) / 60);

/** The materials whose bottles are named with a run: the standard only where a curve of the day is drawn from it. */
export const namedMaterials = ({ materials }: Pick<Method, "materials">, curveOfTheDay: boolean) =>
  materials.filter((m) => m.lot && (curveOfTheDay || !m.for_curve));

/** Every result a run of the method gives: one, or one a pad. */
export const resultsOf = (method: Method): MethodResult[] =>
  method.measure.technique === "strip" ? method.measure.pads : [method.result];

/**
 * How much longer a reaction takes in cold water. Source: a rule of thumb, common practice: twice as long for every ten
 * degrees below 20 °C, at most four times. Check value: 10 °C takes 2 times as long.
 */
export function coldFactor(step: WaitStep, temperatureC: number | null): number {
  if (!step.cold || temperatureC === null || temperatureC >= step.cold.reference_c) return 1;
  return Math.min(step.cold.most, 2 ** ((step.cold.reference_c - temperatureC) / step.cold.doubles_per_c));
}

import { formatOwnDigits } from "../quantity/format";
import { type HardnessUnit, hardnessFactor, hardnessUnitNames } from "../quantity/hardnessUnits";
import { err, ok, type Result } from "../quantity/result";
import { siblingSpecies, speciesFactor } from "../quantity/species";
import type { Kit } from "../stock/kit";
import type { ColourStep, Method, MethodResult, Technique } from "./method";

/** What of a technique is a kit's own, in words; techniques that need none are not here. */
const needs: Partial<Record<Technique, string>> = {
  photometer: "range",
  "photometer-curve": "curve",
  comparator: "scale",
  strip: "scale",
  capillary: "conversion table",
  syringe: "value of a unit",
  drops: "value of a drop",
  digits: "multiplier",
};

/** What a kit must supply for a method; null where nothing of a kit is needed. Check value: a comparator needs a scale. */
export const kitNeed = ({ measure }: Pick<Method, "measure">): string | null =>
  needs[measure.technique] ?? null;

/** Whether a kit supplies what its method needs of one. */
export function supplies({ measure }: Pick<Method, "measure">, kit: Kit): boolean {
  switch (measure.technique) {
    case "comparator":
      return kit.scales.length > 0;
    case "strip":
      return kit.scales.length === measure.pads.length;
    case "capillary":
      return kit.table !== null;
    case "photometer":
      return kit.range !== null;
    case "photometer-curve":
      return kit.curve !== null;
    case "syringe":
    case "drops":
    case "digits":
      return kit.per_unit !== null;
    default:
      return true;
  }
}

/** What a kit's numbers may be given as for a result: its own species, others of the family, degrees of hardness. Check value: NO3 for NO3-N. */
export function givenAs(result: Pick<MethodResult, "species">): string[] {
  const { species } = result;
  return species === "CaCO3"
    ? [species, ...hardnessUnitNames.filter((name) => name !== "mg/L CaCO3")]
    : [species, ...siblingSpecies(species)];
}

/**
 * The factor from what a kit's numbers are given as to what the method reports. Errors: `other-family`.
 * Source: atomic weights; definitions of the degrees. Check value: a kit in NO3 counts 0.2259 for NO3-N.
 */
export function factorOf(kit: Kit, { species }: Pick<MethodResult, "species">): Result<number> {
  const as = kit.given_as;
  if (as === "" || as === species) return ok(1);
  if (species === "CaCO3" && (hardnessUnitNames as readonly string[]).includes(as))
    return ok(hardnessFactor(as as HardnessUnit, "mg/L CaCO3"));
  return speciesFactor(as, species);
}

/** In what the numbers of a kit are. Check value: `mg/L NO3` for a kit of nitrate given as NO3, `°dH` for one in German degrees. */
export function unitOfKit(
  { given_as }: Pick<Kit, "given_as">,
  { unit, species }: Pick<MethodResult, "unit" | "species">,
): string {
  if (species === "CaCO3" && (hardnessUnitNames as readonly string[]).includes(given_as)) return given_as;
  const as = given_as || species;
  return as === unit ? unit : `${unit} ${as}`;
}

/** The kit's steps; their tints run through those of the method's scale, since only their order is compared on a screen. */
function tinted(
  values: readonly number[],
  own: readonly ColourStep[],
  factor: number,
  given_as: string,
): ColourStep[] {
  const last = Math.max(1, values.length - 1);
  return values.map((value, i) => ({
    value: rounded(value * factor),
    colour: own[Math.round((i / last) * (own.length - 1))]?.colour ?? "#888888",
    // People compare with the chart in their hand: they see its numbers.
    ...(factor === 1 ? {} : { printed: `${formatOwnDigits(value)} ${given_as}` }),
  }));
}

/** To six figures: what is converted is not printed with a tail of digits. */
const rounded = (value: number): number => Number(value.toPrecision(6));

/**
 * The method as a kit leads it: its scale, table, factor, range, waits and doses instead of the method's own, in the method's
 * species and unit. What the kit does not say stays. Errors: `other-method`, `other-family`, `scales`.
 * Check value: a kit of 0, 5, 10 mg/L NO3 gives steps of 0, 1.12951, 2.25902 mg/L NO3-N.
 */
export function withKit(method: Method, kit: Kit): Result<Method> {
  if (kit.method !== method.id) return err("other-method", "This kit is for another method.");
  const found = factorOf(kit, method.result);
  if (!found.ok) return found;
  const factor = found.value;
  const measure = kittedMeasure(method.measure, kit, factor);
  if (!measure.ok) return measure;
  const range = kit.range
    ? { low: rounded(kit.range.low * factor), high: rounded(kit.range.high * factor) }
    : (rangeOfScale(kit, factor) ?? method.range);
  return ok({
    ...method,
    measure: measure.value,
    range,
    detection_limit: range === method.range ? method.detection_limit : null,
    steps: method.steps.map((step) => {
      const own = (of: Record<string, number>) => (Object.hasOwn(of, step.id) ? of[step.id] : undefined);
      const [wait, dose] = [own(kit.waits_s), own(kit.doses)];
      if (step.kind === "wait" && wait !== undefined)
        return {
          ...step,
          seconds: wait,
          max_s: step.max_s === null ? null : Math.max(wait, step.max_s),
        };
      return step.kind === "add" && dose !== undefined ? { ...step, amount: dose } : step;
    }),
  });
}

/** Between which results the scales or the table of a kit can say anything. */
function rangeOfScale({ scales, table }: Kit, factor: number): Method["range"] | null {
  const values = [...scales.flatMap((s) => s.steps), ...(table ?? []).map((r) => r.value)];
  const low = Math.min(...values.filter((v) => v > 0));
  const high = Math.max(...values);
  return low < high && Number.isFinite(low)
    ? { low: rounded(low * factor), high: rounded(high * factor) }
    : null;
}

function kittedMeasure(measure: Method["measure"], kit: Kit, factor: number): Result<Method["measure"]> {
  const { per_unit, scales, table, curve } = kit;
  switch (measure.technique) {
    case "comparator": {
      if (scales.length === 0) return ok(measure);
      if (scales.length > 2) return err("scales", "A comparator has one scale, or a low and a high one.");
      const own = measure.scales[0]?.steps ?? [];
      return ok({
        ...measure,
        scales: scales.map((s, i) => ({
          name: s.name || `Scale ${i + 1}`,
          steps: tinted(s.steps, own, factor, kit.given_as),
        })),
      });
    }
    case "strip": {
      if (scales.length === 0) return ok(measure);
      if (scales.length !== measure.pads.length)
        return err("scales", `The strip has ${measure.pads.length} pads: give a scale for each.`);
      return ok({
        ...measure,
        pads: measure.pads.map((pad, i) => ({
          ...pad,
          steps: tinted(
            scales[i]?.steps ?? [],
            pad.steps,
            measure.pads.length > 1 ? 1 : factor,
            kit.given_as,
          ),
        })),
      });
    }
    case "capillary":
      return ok({
        ...measure,
        table: table?.map((r) => ({ ...r, value: rounded(r.value * factor) })) ?? measure.table,
      });
    case "photometer":
      return ok({ ...measure, factor: (per_unit ?? measure.factor) * factor });
    case "photometer-curve":
      return ok(
        curve ? { ...measure, intercept: curve.intercept, slope: rounded(curve.slope / factor) } : measure,
      );
    case "syringe":
      return ok(per_unit === null ? measure : { ...measure, per_unit: rounded(per_unit * factor) });
    case "drops":
      return ok(per_unit === null ? measure : { ...measure, per_drop: rounded(per_unit * factor) });
    case "digits":
      return ok(per_unit === null ? measure : { ...measure, multiplier: rounded(per_unit * factor) });
    default:
      return ok(measure);
  }
}

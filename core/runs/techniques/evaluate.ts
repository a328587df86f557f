import { predictConcentration } from "../../calibration/curve";
import type { ColourStep, Method, MethodResult } from "../../methods/method";
import { resultsOf } from "../../methods/methodWords";
import type { Raw } from "../../methods/raw";
import { formatNumber, formatSignificant } from "../../quantity/format";
import { type Found, foundOf, scaleFound } from "../../quantity/found";
import { err, ok, type Result } from "../../quantity/result";
import { absorbanceOf, type DayStandard, dayCurve } from "./dayCurve";
import { fixedEndPoint, granAlkalinity, inflection, type TitrationPoint } from "./gran";
import { type TableRow, tableFound } from "./table";
import {
  alkalinityByTitration,
  alkalinityParts,
  chlorideByTitration,
  effectiveSample,
  hardnessByTitration,
  oxygenByTitration,
} from "./titration";
import { lessBack, type Overshot, type Volumes, volumeAtFirst, volumeUsed } from "./volumes";

/** What one replicate has to be evaluated from. */
export interface Gathered {
  /** The raw reading of each result, by its parameter. */
  raw: Record<string, Raw>;
  drops: number;
  volumes: Volumes;
  points: readonly TitrationPoint[];
  overshot?: Overshot;
}

/** What the run adds to the method: the dilution, and the titrant and blank of the day. */
export interface RunContext {
  dilution: number;
  strength: number | null;
  blank_ml: number | null;
  table: readonly TableRow[] | null;
  curve: readonly DayStandard[] | null;
}

export interface Evaluated {
  found: Found;
  /** The formula and the numbers put into it. */
  working: string[];
}

/** A colour as what its scale says. Check value: between 0.2 and 0.5 is that interval; below the lowest is "less than". */
function colourFound(steps: readonly ColourStep[], raw: Extract<Raw, { kind: "colour" }>): Result<Found> {
  const at = steps[raw.step]?.value;
  if (at === undefined) return err("no-such-step", "The scale has no such step.");
  const nonZero = steps.find((s) => s.value > 0)?.value ?? 0;
  const below: Found = { kind: "below", limit: nonZero };
  switch (raw.place) {
    case "at":
      // A printed step "0" is not zero: it is less than the first step that is not.
      return ok(at === 0 ? below : { kind: "value", value: at });
    case "below":
      return ok({ kind: "below", limit: at === 0 ? nonZero : at });
    case "above":
      return ok({ kind: "above", limit: at });
    case "between": {
      const next = steps[raw.step + 1]?.value;
      if (next === undefined) return err("no-such-step", "There is no step after this one.");
      return ok(foundOf(at, next));
    }
  }
}

/** Beyond the method's range a number says no more than that. */
function ranged(value: number, method: Method): Found {
  if (value > method.range.high * (1 + 1e-9)) return { kind: "above", limit: method.range.high };
  const least = method.detection_limit ?? method.range.low;
  if (value < least * (1 - 1e-9)) return { kind: "below", limit: least };
  return { kind: "value", value };
}

const n = (value: number) => formatSignificant(value, 4);

/** What an undiluted portion gave, with its working. */
function undiluted(
  method: Method,
  result: MethodResult,
  gathered: Gathered,
  context: RunContext,
): Result<Evaluated> {
  const { measure } = method;
  const { unit, species } = result;
  const raw = gathered.raw[result.parameter];
  if (!raw) return err("not-read", "This has not been read yet.");
  const number = (value: number, working: string[]): Result<Evaluated> =>
    ok({ found: ranged(value, method), working });
  if (raw.kind === "off-scale") {
    return ok({
      found:
        raw.side === "over"
          ? { kind: "above", limit: method.range.high }
          : { kind: "below", limit: method.detection_limit ?? method.range.low },
      working: [`the display is ${raw.side} its range`],
    });
  }
  const wrong = err("wrong-kind", "This technique is read in another way.");
  switch (measure.technique) {
    case "photometer":
      if (raw.kind !== "number") return wrong;
      return number(raw.value * measure.factor, [
        measure.factor === 1
          ? `read ${n(raw.value)} ${unit} ${species}`
          : `${n(raw.value)} · ${n(measure.factor)} = ${n(raw.value * measure.factor)} ${unit} ${species}`,
      ]);
    case "photometer-curve": {
      if (raw.kind !== "number") return wrong;
      const absorbed = absorbanceOf(raw.value, measure.signal);
      if (!absorbed.ok) return absorbed;
      const absorbance = absorbed.value;
      const light =
        measure.signal === "percent-transmittance"
          ? [`A = −log10(${n(raw.value)} / 100) = ${formatNumber(absorbance, 4)}`]
          : [];
      if (context.curve) return byDayCurve(method, result, context.curve, absorbance, light);
      const value = (absorbance - measure.intercept) / measure.slope;
      return number(value, [
        ...light,
        `c = (A − a) / b = (${formatNumber(absorbance, 4)} − ${formatNumber(measure.intercept, 4)}) / ${n(measure.slope)} = ${n(value)} ${unit} ${species}`,
      ]);
    }
    case "comparator": {
      if (raw.kind !== "colour") return wrong;
      const scale = measure.scales[raw.scale];
      if (!scale) return err("no-such-scale", "The comparator has no such scale.");
      const found = colourFound(scale.steps, raw);
      return found.ok
        ? ok({ found: found.value, working: [`${scale.name}: ${colourWords(scale.steps, raw, unit)}`] })
        : found;
    }
    case "strip": {
      if (raw.kind !== "colour") return wrong;
      const pad = measure.pads.find((p) => p.parameter === result.parameter);
      if (!pad) return wrong;
      const found = colourFound(pad.steps, raw);
      return found.ok
        ? ok({ found: found.value, working: [`${pad.position}: ${colourWords(pad.steps, raw, unit)}`] })
        : found;
    }
    case "capillary":
      if (raw.kind !== "divisions") return wrong;
      return ok({
        found: tableFound(context.table ?? measure.table, raw.value),
        working: [
          `${formatNumber(raw.value, 1)} divisions by the ${context.table ? "lot's" : "method's"} table`,
        ],
      });
    case "burette": {
      const used = lessBack(volumeUsed(gathered.volumes), gathered.overshot);
      if (!used.ok) return used;
      const strength = context.strength ?? measure.strength;
      const blank = context.blank_ml ?? measure.blank_ml;
      const v = formatNumber(used.value, 2);
      const b = formatNumber(blank, 2);
      const back = gathered.overshot?.back_ml
        ? [
            `${formatNumber(used.value + gathered.overshot.back_ml, 2)} mL given, ${formatNumber(gathered.overshot.back_ml, 2)} mL added back`,
          ]
        : [];
      const s = formatSignificant(strength, 3);
      switch (measure.formula) {
        case "oxygen": {
          const water = effectiveSample(
            measure.sample_ml,
            measure.bottle_ml ?? undefined,
            measure.reagents_ml,
          );
          const value = oxygenByTitration(used.value, strength, water);
          return number(value, [
            ...back,
            "mg/L = V · N · 8000 / Vs",
            `${v} · ${s} · 8000 / ${n(water)} = ${formatNumber(value, 2)} mg/L`,
          ]);
        }
        case "alkalinity": {
          const alkalinity = (ml: number) => alkalinityByTitration(ml - blank, strength, measure.sample_ml);
          const line = (ml: number) =>
            `(${formatNumber(ml, 2)} − ${b}) · ${s} · 50 000 / ${n(measure.sample_ml)} = ${n(alkalinity(ml))} mg/L CaCO3`;
          const working = [...back, "mg/L CaCO3 = (A − blank) · N · 50 000 / Vs", `T = ${line(used.value)}`];
          const first = volumeAtFirst(gathered.volumes);
          if (first !== null) {
            const parts = alkalinityParts(alkalinity(first), alkalinity(used.value));
            working.push(
              `P = ${line(first)}`,
              `hydroxide ${n(parts.hydroxide)}, carbonate ${n(parts.carbonate)}, bicarbonate ${n(parts.bicarbonate)} mg/L CaCO3`,
            );
          }
          return number(alkalinity(used.value), working);
        }
        case "hardness": {
          const value = hardnessByTitration(used.value, blank, strength, measure.sample_ml);
          return number(value, [
            ...back,
            "mg/L CaCO3 = (A − blank) · B · 1000 / Vs",
            `(${v} − ${b}) · ${s} · 1000 / ${n(measure.sample_ml)} = ${n(value)} mg/L CaCO3`,
          ]);
        }
        case "chloride": {
          const value = chlorideByTitration(used.value, blank, strength, measure.sample_ml);
          return number(value, [
            ...back,
            "mg/L = (A − blank) · N · 35 450 / Vs",
            `(${v} − ${b}) · ${s} · 35 450 / ${n(measure.sample_ml)} = ${n(value)} mg/L`,
          ]);
        }
      }
      return wrong;
    }
    case "syringe": {
      const used = lessBack(volumeUsed(gathered.volumes), gathered.overshot);
      if (!used.ok) return used;
      const value = used.value * measure.per_unit;
      return number(value, [
        `${formatNumber(used.value, 2)} units of the scale · ${n(measure.per_unit)} = ${formatNumber(value, 2)} ${unit}`,
      ]);
    }
    case "drops": {
      const drops = lessBack(ok(gathered.drops), gathered.overshot);
      if (!drops.ok) return drops;
      const value = drops.value * measure.per_drop;
      return number(value, [
        ...(drops.value === gathered.drops
          ? []
          : [`${gathered.drops} drops, ${gathered.drops - drops.value} added back`]),
        `${drops.value} drops · ${n(measure.per_drop)} = ${n(value)} ${unit} ${species}`,
      ]);
    }
    case "digits":
      if (raw.kind !== "number") return wrong;
      return number(raw.value * measure.multiplier, [
        `${formatNumber(raw.value, 0)} digits · ${n(measure.multiplier)} = ${n(raw.value * measure.multiplier)} ${unit} ${species}`,
      ]);
    case "ph-endpoint":
      return endPoint(method, measure, gathered, context);
    case "meter":
      return raw.kind === "number" ? number(raw.value, [`read ${n(raw.value)} ${unit}`]) : wrong;
    case "visual": {
      if (raw.kind === "depths") {
        const value = ((raw.disappears + raw.reappears) / 2) * measure.factor;
        return number(value, [`mean of ${n(raw.disappears)} and ${n(raw.reappears)} = ${n(value)} ${unit}`]);
      }
      if (raw.kind === "height") {
        // A bottom or a full tube that is still seen through: the water is clearer than can be measured.
        return ok({
          found: raw.bottom
            ? { kind: "above", limit: raw.value * measure.factor }
            : { kind: "value", value: raw.value * measure.factor },
          working: [raw.bottom ? `still seen at ${n(raw.value)} ${unit}` : `read ${n(raw.value)} ${unit}`],
        });
      }
      return raw.kind === "number"
        ? number(raw.value * measure.factor, [
            `${n(raw.value)} · ${n(measure.factor)} = ${n(raw.value * measure.factor)} ${unit}`,
          ])
        : wrong;
    }
  }
}

/** What the curve of the day gives: never beyond its top standard, and never below what it can tell from nothing. */
function byDayCurve(
  method: Method,
  { unit, species }: MethodResult,
  standards: readonly DayStandard[],
  absorbance: number,
  light: readonly string[],
): Result<Evaluated> {
  const { measure } = method;
  const fitted = dayCurve(
    standards,
    measure.technique === "photometer-curve" ? measure.signal : "absorbance",
  );
  if (!fitted.ok) return fitted;
  const curve = fitted.value;
  const read = predictConcentration(curve, absorbance);
  if (!read.ok) return read;
  const { concentration, low, high, dilute } = read.value;
  const least = Math.max(curve.detectionLimit, method.detection_limit ?? 0);
  const found: Found =
    dilute !== null
      ? { kind: "above", limit: curve.highest }
      : concentration < least
        ? { kind: "below", limit: least }
        : { kind: "value", value: concentration };
  return ok({
    found,
    working: [
      `curve of the day, ${curve.n} standards up to ${n(curve.highest)} ${unit}: A = ${formatNumber(curve.intercept, 4)} + ${n(curve.slope)} · c`,
      ...light,
      `c = (${formatNumber(absorbance, 4)} − ${formatNumber(curve.intercept, 4)}) / ${n(curve.slope)} = ${n(concentration)} ${unit} ${species}`,
      `95 %: ${n(low)} to ${n(high)} ${unit}`,
    ],
  });
}

const colourWords = (steps: readonly ColourStep[], raw: Extract<Raw, { kind: "colour" }>, unit: string) => {
  const named = (step: ColourStep | undefined) =>
    step?.printed ? `${step.printed} (${n(step.value)} ${unit})` : `${step?.value} ${unit}`;
  const [at, next] = [steps[raw.step], steps[raw.step + 1]];
  return {
    at: `like the step ${named(at)}`,
    between: next?.printed
      ? `between the steps ${named(at)} and ${named(next)}`
      : `between the steps ${at?.value} and ${next?.value} ${unit}`,
    below: `lighter than the step ${named(at)}`,
    above: `darker than the step ${named(at)}`,
  }[raw.place];
};

const evaluationWords = { gran: "Gran", inflection: "steepest place", fixed: "fixed end point" } as const;

function endPoint(
  method: Method,
  measure: Extract<Method["measure"], { technique: "ph-endpoint" }>,
  { points }: Gathered,
  context: RunContext,
): Result<Evaluated> {
  const strength = context.strength ?? measure.strength;
  const { sample_ml, end_ph } = measure;
  const working = (ml: number, how: string) => {
    const value = alkalinityByTitration(ml, strength, sample_ml);
    return ok({
      found: ranged(value, method),
      working: [
        `${how}: end point ${formatNumber(ml, 2)} mL`,
        `${formatNumber(ml, 2)} · ${formatSignificant(strength, 3)} · 50 000 / ${n(sample_ml)} = ${n(value)} mg/L CaCO3`,
      ],
    });
  };
  if (measure.evaluate === "gran") {
    const found = granAlkalinity(sample_ml, strength, points);
    return found.ok
      ? working(
          found.value.equivalence_ml,
          `Gran (${found.value.method.replaceAll("-", " ")}, ${found.value.points_used} points)`,
        )
      : found;
  }
  const end = measure.evaluate === "fixed" ? fixedEndPoint(points, end_ph) : inflection(points);
  return end.ok ? working(end.value, evaluationWords[measure.evaluate]) : end;
}

/**
 * Every result of one replicate, by its parameter: what was found in the sample, dilution taken into account, with its
 * working. Only what has been read is there. Units: those of the method. Errors: as results.
 * Check value: 7 drops of 1 mg/L each, diluted 1 + 1, are 14 mg/L.
 */
export function evaluate(
  method: Method,
  gathered: Gathered,
  context: RunContext,
): Record<string, Result<Evaluated>> {
  return Object.fromEntries(
    resultsOf(method)
      .filter((result) => gathered.raw[result.parameter])
      .map((result) => {
        const plain = undiluted(method, result, gathered, context);
        if (!plain.ok || context.dilution === 1) return [result.parameter, plain];
        return [
          result.parameter,
          ok({
            found: scaleFound(plain.value.found, context.dilution),
            working: [...plain.value.working, `times the dilution factor ${n(context.dilution)}`],
          }),
        ];
      }),
  );
}

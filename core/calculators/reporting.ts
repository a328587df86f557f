import { z } from "zod";
import { resolveDuplicates } from "../judgement/duplicates";
import { atMost } from "../quantity/compare";
import { formatNumber, formatSignificant } from "../quantity/format";
import { type HardnessUnit, hardnessFactor, hardnessUnitNames } from "../quantity/hardnessUnits";
import { speciesFactor, speciesNames } from "../quantity/species";
import { ammoniumPka, unionisedFraction } from "../reference/ammonia";
import { defineCalculator, measured } from "./define";

/** Un-ionised ammonia. Check value: pH 8 and 25 °C, 5.37 %. */
export const freeAmmoniaCalculator = defineCalculator({
  id: "free-ammonia",
  title: "Un-ionised ammonia",
  purpose: "See how much of the ammonia is in the form that harms fish.",
  input: z.object({
    total_ammonia_mg_l_n: measured("Total ammonia as N", "mg/L", 0, 10_000),
    ph: measured("pH", "", 0, 14),
    temperature_c: measured("Temperature", "°C", -5, 60),
  }),
  output: z.object({
    pka: z.number(),
    fraction: z.number(),
    unionised_mg_l_n: z.number(),
    unionised_mg_l_nh3: z.number(),
  }),
  sources: ["Emerson et al. 1975, J. Fish. Res. Board Can. 32"],
  example: { total_ammonia_mg_l_n: 0.4, ph: 8, temperature_c: 20 },
  compute({ total_ammonia_mg_l_n, ph, temperature_c }) {
    const pka = ammoniumPka(temperature_c);
    const fraction = unionisedFraction(ph, temperature_c);
    const asN = total_ammonia_mg_l_n * fraction;
    const factor = speciesFactor("NH3-N", "NH3");
    const asNh3 = asN * (factor.ok ? factor.value : Number.NaN);
    return {
      outputs: { pka, fraction, unionised_mg_l_n: asN, unionised_mg_l_nh3: asNh3 },
      working: [
        "pKa = 0.09018 + 2729.92 / T; fraction = 1 / (1 + 10^(pKa − pH))",
        `pKa = 0.09018 + 2729.92 / ${formatNumber(temperature_c + 273.15, 2)} = ${formatNumber(pka, 3)}; fraction = ${formatSignificant(fraction * 100, 3)} %`,
        `${formatSignificant(total_ammonia_mg_l_n, 3)} · ${formatSignificant(fraction, 3)} = ${formatSignificant(asN, 3)} mg/L as N = ${formatSignificant(asNh3, 3)} mg/L as NH3`,
      ],
      warnings: [
        { code: "same-moment", message: "pH and temperature must be of the same sample and moment." },
        ...(temperature_c < 0 || temperature_c > 30
          ? [{ code: "outside-range", message: "The formula is made for fresh water of 0 to 30 °C." }]
          : []),
      ],
    };
  },
});

/** Species. Check value: 1 mg/L NO3-N is 4.43 mg/L NO3. */
export const speciesCalculator = defineCalculator({
  id: "species",
  title: "As nitrogen, as the ion",
  purpose: "Report the same result as the element, the ion or the oxide.",
  input: z.object({
    value: measured("Concentration", "mg/L", 0, 1e9),
    from: z.enum(speciesNames).meta({ title: "Given as" }),
    to: z.enum(speciesNames).meta({ title: "Wanted as" }),
  }),
  output: z.object({ value: z.number(), factor: z.number() }),
  sources: ["atomic weights (IUPAC, abridged)"],
  example: { value: 5, from: "NO3-N", to: "NO3" },
  compute({ value, from, to }) {
    const factor = speciesFactor(from, to);
    if (!factor.ok) return { problems: [{ path: "to", message: factor.error.message }] };
    const result = value * factor.value;
    return {
      outputs: { value: result, factor: factor.value },
      working: [
        `${to} = ${from} · molar mass of ${to} / molar mass of ${from}`,
        `${formatSignificant(value, 4)} · ${formatSignificant(factor.value, 5)} = ${formatSignificant(result, 4)} mg/L ${to}`,
      ],
      warnings:
        from === "NH3-N" && to === "NH3"
          ? [{ code: "printed-factor", message: "Kits print 1.214; the molar masses give 1.2159." }]
          : [],
    };
  },
});

/** Hardness units. Check value: 1 °dH is 17.848 mg/L of CaCO3. */
export const hardnessUnitsCalculator = defineCalculator({
  id: "hardness-units",
  title: "Units of hardness and alkalinity",
  purpose: "Turn degrees, milliequivalents and mg/L of CaCO3 into each other.",
  input: z.object({
    value: measured("Value", "", 0, 1e9),
    from: z.enum(hardnessUnitNames).meta({ title: "Given in" }),
    to: z.enum(hardnessUnitNames).meta({ title: "Wanted in" }),
  }),
  output: z.object({ value: z.number(), factor: z.number() }),
  sources: ["definitions of the degrees; atomic weights (IUPAC)"],
  example: { value: 9, from: "°dH", to: "mg/L CaCO3" },
  compute({ value, from, to }) {
    const factor = hardnessFactor(from as HardnessUnit, to as HardnessUnit);
    return {
      outputs: { value: value * factor, factor },
      working: [
        `1 ${from} = ${formatSignificant(factor, 5)} ${to}`,
        `${formatSignificant(value, 4)} · ${formatSignificant(factor, 5)} = ${formatSignificant(value * factor, 4)} ${to}`,
      ],
      warnings:
        from === "°dH" && to === "mg/L CaCO3"
          ? [{ code: "printed-factor", message: "Kits print 17.86; the definition gives 17.848." }]
          : [],
    };
  },
});

const duplicateInput = z.union(
  [
    z
      .object({ absolute: z.number().positive().meta({ title: "Apart at most" }) })
      .meta({ title: "By their difference" }),
    z
      .object({
        relative_percent: z.number().positive().meta({ title: "Apart at most", unit: "%" }),
        detection_limit: z.number().positive().optional().meta({ title: "Detection limit, if known" }),
      })
      .meta({ title: "By a share of their mean" }),
  ],
  { error: "Give the rule as an absolute limit or as a percentage." },
);

/** Duplicates. Check value: 7.9 and 8.3 with an absolute 0.6 are accepted, mean 8.1. */
export const duplicatesCalculator = defineCalculator({
  id: "duplicates",
  title: "Do two readings agree?",
  purpose: "Hold a pair against its rule before you decide what to do next.",
  input: z.object({
    a: z.number().meta({ title: "First" }),
    b: z.number().meta({ title: "Second" }),
    rule: duplicateInput.meta({ title: "Rule" }),
  }),
  output: z.object({
    difference: z.number(),
    relative_percent: z.number(),
    mean: z.number(),
    accepted: z.boolean(),
  }),
  sources: ["common practice; relative difference of duplicates as in 40 CFR 136"],
  example: { a: 7.9, b: 8.3, rule: { absolute: 0.6 } },
  compute({ a, b, rule }) {
    const mean = (a + b) / 2;
    const difference = Math.abs(a - b);
    const relative = difference === 0 ? 0 : mean === 0 ? Number.NaN : (difference / Math.abs(mean)) * 100;
    const low =
      "relative_percent" in rule && rule.detection_limit !== undefined && mean < 5 * rule.detection_limit;
    const accepted = low
      ? atMost(difference, rule.detection_limit as number)
      : "absolute" in rule
        ? resolveDuplicates([a, b], { kind: "absolute", limit: rule.absolute }).mean !== null
        : resolveDuplicates([a, b], { kind: "relative", limit: rule.relative_percent }).mean !== null;
    if (!Number.isFinite(relative) && !("absolute" in rule)) {
      return { problems: [{ path: "rule", message: "A mean of zero has no relative difference." }] };
    }
    const limit = low
      ? `below 5 × the detection limit: at most ${formatSignificant(rule.detection_limit as number, 3)} apart`
      : "absolute" in rule
        ? `at most ${formatSignificant(rule.absolute, 3)} apart`
        : `at most ${formatSignificant(rule.relative_percent, 3)} % of the mean apart`;
    return {
      outputs: {
        difference,
        relative_percent: Number.isFinite(relative) ? relative : 0,
        mean,
        accepted,
      },
      working: [
        "difference = |a − b|; relative = difference / mean · 100",
        `difference = ${formatSignificant(difference, 3)}; mean = ${formatSignificant(mean, 4)}; relative = ${formatNumber(Number.isFinite(relative) ? relative : 0, 1)} %`,
        `${limit}: ${accepted ? "they agree" : "they do not agree"}`,
      ],
    };
  },
});

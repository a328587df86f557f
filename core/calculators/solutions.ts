import { z } from "zod";
import { formatSignificant } from "../quantity/format";
import { spreadLimits, standardise } from "../stock/standardised";
import { defineCalculator, measured, type Warning } from "./define";

const n = (value: number) => formatSignificant(value, 4);

/** Serial dilution. Check value: 1000 ten times, three times over, ends at 1. */
export const serialDilutionCalculator = defineCalculator({
  id: "serial-dilution",
  title: "Serial dilution",
  purpose: "The same dilution again and again: what stands in each tube, and how much is carried over.",
  input: z.object({
    stock: measured("Strength of the stock", "", 1e-9, 1e9),
    factor: measured("Diluted each time", "times", 1.01, 1000),
    steps: z.number().int().min(1).max(12).meta({ title: "How many times" }),
    volume_ml: measured("Volume of each tube", "mL", 0.1, 10_000),
  }),
  output: z.object({
    transfer_ml: z.number().positive(),
    diluent_ml: z.number().positive(),
    tubes: z.array(
      z.object({ tube: z.number(), concentration: z.number().positive(), total_factor: z.number() }),
    ),
  }),
  sources: ["conservation of what is dissolved: c1 · V1 = c2 · V2, tube after tube"],
  example: { stock: 1000, factor: 10, steps: 3, volume_ml: 10 },
  compute({ stock, factor, steps, volume_ml }) {
    const transfer_ml = volume_ml / factor;
    const tubes = Array.from({ length: steps }, (_, i) => ({
      tube: i + 1,
      concentration: stock / factor ** (i + 1),
      total_factor: factor ** (i + 1),
    }));
    const warnings: Warning[] = [];
    if (factor > 100)
      warnings.push({
        code: "large-factor",
        message: `${n(factor)} times in one step is inexact: take more steps.`,
      });
    if (transfer_ml < 0.1)
      warnings.push({
        code: "small-volume",
        message: `${n(transfer_ml)} mL is poorly carried over: make more of each tube.`,
      });
    return {
      outputs: { transfer_ml, diluent_ml: volume_ml - transfer_ml, tubes },
      working: [
        `carried over: ${n(volume_ml)} / ${n(factor)} = ${n(transfer_ml)} mL, with ${n(volume_ml - transfer_ml)} mL of water`,
        ...tubes.map((t) => `tube ${t.tube}: ${n(stock)} / ${n(factor)}^${t.tube} = ${n(t.concentration)}`),
      ],
      warnings,
    };
  },
});

/** Mixing two strengths. Check value: 10 and 2 make 100 mL of 5 from 37.5 and 62.5 mL. */
export const mixingCalculator = defineCalculator({
  id: "mixing",
  title: "Mixing two strengths",
  purpose: "How much of a stronger and a weaker solution makes one in between.",
  input: z.object({
    stronger: measured("The stronger one", "", 1e-9, 1e9),
    weaker: measured("The weaker one, in the same unit; 0 for water", "", 0, 1e9),
    target: measured("Strength wanted", "", 1e-9, 1e9),
    volume_ml: measured("Volume wanted", "mL", 0.1, 1_000_000),
  }),
  output: z.object({ stronger_ml: z.number().min(0), weaker_ml: z.number().min(0) }),
  sources: ["conservation of what is dissolved; volumes are taken to add, as in dilute water"],
  example: { stronger: 10, weaker: 2, target: 5, volume_ml: 100 },
  compute({ stronger, weaker, target, volume_ml }) {
    if (stronger <= weaker) {
      return { problems: [{ path: "weaker", message: "The weaker one is weaker than the other." }] };
    }
    if (target < weaker || target > stronger) {
      const message = `What is mixed lies between ${n(weaker)} and ${n(stronger)}.`;
      return { problems: [{ path: "target", message }] };
    }
    const stronger_ml = (volume_ml * (target - weaker)) / (stronger - weaker);
    return {
      outputs: { stronger_ml, weaker_ml: volume_ml - stronger_ml },
      working: [
        "V1 = V · (c − c2) / (c1 − c2)",
        `V1 = ${n(volume_ml)} · (${n(target)} − ${n(weaker)}) / (${n(stronger)} − ${n(weaker)}) = ${n(stronger_ml)} mL of the stronger`,
        `V2 = ${n(volume_ml)} − ${n(stronger_ml)} = ${n(volume_ml - stronger_ml)} mL of the weaker`,
      ],
    };
  },
});

/** Standardisation. Check value: 20.00 mL of 0.0250 eq/L take 19.92, 19.90 and 19.94 mL: 0.02510 N. */
export const standardisationCalculator = defineCalculator({
  id: "standardisation",
  title: "Standardising a titrant",
  purpose: "The strength of a titrant from what a standard of known strength took of it.",
  input: z.object({
    standard_normality: measured("Strength of the standard", "eq/L", 1e-6, 20),
    standard_relative_uncertainty: measured("Its relative standard uncertainty", "", 0, 0.5).default(0),
    standard_ml: measured("Standard taken each time", "mL", 0.1, 1000),
    titrant_ml: z
      .array(measured("Titrant", "mL", 0.01, 1000))
      .min(2)
      .max(12)
      .meta({ title: "Titrant used, each time", unit: "mL" }),
    blank_ml: measured("Blank", "mL", 0, 100).default(0),
    pipette_within_ml: measured("Tolerance of the pipette", "mL", 0, 1).default(0),
    burette_within_ml: measured("Tolerance of the burette", "mL", 0, 1).default(0),
    place: z.enum(["bench", "field"]).default("bench").meta({ title: "Done at the" }),
  }),
  output: z.object({
    normality: z.number().positive(),
    standard_uncertainty: z.number().min(0),
    spread_percent: z.number().min(0),
    accepted: z.boolean(),
  }),
  sources: [
    "equivalence: N1 · V1 = N2 · V2; the uncertainty of a mean is s / √n (GUM)",
    `replicates within ${spreadLimits.bench} % at the bench, ${spreadLimits.field} % in the field: common practice`,
  ],
  example: {
    standard_normality: 0.025,
    standard_ml: 20,
    titrant_ml: [19.92, 19.9, 19.94],
  },
  compute(input) {
    const { standard_normality, standard_ml, titrant_ml, blank_ml, place } = input;
    const net = titrant_ml.map((v) => v - blank_ml);
    const short = net.findIndex((v) => v <= 0);
    if (short >= 0) {
      return { problems: [{ path: `titrant_ml.${short}`, message: "This is no more than the blank." }] };
    }
    const u = input.standard_relative_uncertainty * standard_normality;
    const found = standardise(
      {
        standard: { value: standard_normality, uncertainty: u },
        standard_ml,
        titrant_ml,
        blank_ml,
        pipette_within_ml: input.pipette_within_ml,
        burette_within_ml: input.burette_within_ml,
        place,
      },
      "eq/L",
    );
    if (!found) return { problems: [{ path: "titrant_ml", message: "Give what was used of it." }] };
    const { value, uncertainty, spread_percent, accepted, working } = found;
    return {
      outputs: { normality: value, standard_uncertainty: uncertainty, spread_percent, accepted },
      working,
      warnings: accepted
        ? []
        : [
            {
              code: "spread",
              message: `The replicates differ by more than ${spreadLimits[place]} %: titrate again, with a rinsed burette.`,
            },
          ],
    };
  },
});

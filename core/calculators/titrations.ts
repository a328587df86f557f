import { z } from "zod";
import { formatNumber, formatSignificant } from "../quantity/format";
import {
  alkalinityByTitration,
  alkalinityParts,
  chlorideByTitration,
  effectiveSample,
  hardnessByTitration,
  oxygenByTitration,
} from "../runs/techniques/titration";
import { defineCalculator, measured } from "./define";

const volume = (label: string, high = 5000) => measured(label, "mL", 0, high);
const some = (label: string, unit: string, high: number) =>
  z
    .number()
    .positive({ error: `${label} must be more than zero.` })
    .max(high)
    .meta({ title: label, unit });
/** A result that no water has: said, not hidden. */
const implausible = (value: number, most: number, what: string) =>
  value > most
    ? [
        {
          code: "implausible",
          message: `${what} above ${formatNumber(most, 0)} mg/L is no natural water. Look at the volumes and the strength again.`,
        },
      ]
    : [];
const n4 = (value: number) => formatSignificant(value, 4);

/** Oxygen by iodine titration. Check value: 1 mL of 0.0250 N for 200 mL is 1.00 mg/L. */
export const oxygenTitrationCalculator = defineCalculator({
  id: "oxygen-titration",
  title: "Oxygen by iodine titration",
  purpose: "Turn millilitres of thiosulfate into dissolved oxygen.",
  input: z
    .object({
      titrant_ml: volume("Thiosulfate used", 1000),
      normality: some("Normality of the thiosulfate", "eq/L", 10),
      sample_ml: measured("Sample titrated", "mL", 0.1, 5000),
      bottle_ml: some("Bottle, if reagents took some water's place", "mL", 5000).optional(),
      reagents_ml: volume("Reagents put into the bottle", 100).optional(),
    })
    .refine((i) => i.bottle_ml === undefined || (i.reagents_ml ?? 0) < i.bottle_ml, {
      path: ["reagents_ml"],
      error: "The reagents cannot fill the whole bottle.",
    })
    .refine((i) => i.bottle_ml === undefined || i.sample_ml <= i.bottle_ml, {
      path: ["sample_ml"],
      error: "More was titrated than the bottle holds.",
    }),
  output: z.object({ oxygen_mg_l: z.number(), water_ml: z.number() }),
  sources: ["Standard Methods 4500-O C"],
  example: { titrant_ml: 8.4, normality: 0.025, sample_ml: 201, bottle_ml: 300, reagents_ml: 2 },
  compute({ titrant_ml, normality, sample_ml, bottle_ml, reagents_ml }) {
    const water_ml = effectiveSample(sample_ml, bottle_ml, reagents_ml);
    const oxygen = oxygenByTitration(titrant_ml, normality, water_ml);
    return {
      outputs: { oxygen_mg_l: oxygen, water_ml },
      working: [
        "mg/L = V · N · 8000 / Vs",
        ...(bottle_ml
          ? [
              `Vs = ${n4(sample_ml)} · (${n4(bottle_ml)} − ${n4(reagents_ml ?? 0)}) / ${n4(bottle_ml)} = ${n4(water_ml)} mL of water`,
            ]
          : []),
        `mg/L = ${formatNumber(titrant_ml, 2)} · ${formatSignificant(normality, 3)} · 8000 / ${n4(water_ml)} = ${formatNumber(oxygen, 2)} mg/L`,
      ],
      warnings:
        oxygen > 20
          ? [{ code: "high", message: "More than 20 mg/L is rare in nature. Was the end point passed?" }]
          : [],
    };
  },
});

/** Alkalinity by acid. Check value: 10 mL of 0.02 N for 100 mL is 100 mg/L of CaCO3. */
export const alkalinityTitrationCalculator = defineCalculator({
  id: "alkalinity-titration",
  title: "Alkalinity by titration",
  purpose: "Turn millilitres of acid into alkalinity, and into its parts when the first end point is known.",
  input: z
    .object({
      acid_ml: volume("Acid to the last end point", 1000),
      normality: some("Normality of the acid", "eq/L", 10),
      sample_ml: measured("Sample", "mL", 0.1, 5000),
      phenolphthalein_ml: volume("Acid to pH 8.3", 1000).optional(),
    })
    .refine((i) => (i.phenolphthalein_ml ?? 0) <= i.acid_ml, {
      path: ["phenolphthalein_ml"],
      error: "The first end point cannot take more acid than the last.",
    }),
  output: z.object({
    total_mg_l_caco3: z.number(),
    hydroxide_mg_l_caco3: z.number().optional(),
    carbonate_mg_l_caco3: z.number().optional(),
    bicarbonate_mg_l_caco3: z.number().optional(),
  }),
  sources: ["Standard Methods 2320 B, table 2320:II"],
  example: { acid_ml: 10, normality: 0.02, sample_ml: 100, phenolphthalein_ml: 2 },
  compute({ acid_ml, normality, sample_ml, phenolphthalein_ml }) {
    const total = alkalinityByTitration(acid_ml, normality, sample_ml);
    const line = (name: string, ml: number, result: number) =>
      `${name} = ${formatNumber(ml, 2)} · ${formatSignificant(normality, 3)} · 50 000 / ${n4(sample_ml)} = ${n4(result)} mg/L CaCO3`;
    const working = ["mg/L CaCO3 = A · N · 50 000 / Vs", line("T", acid_ml, total)];
    const warnings = implausible(total, 20_000, "Alkalinity");
    if (phenolphthalein_ml === undefined) return { outputs: { total_mg_l_caco3: total }, working, warnings };
    const p = alkalinityByTitration(phenolphthalein_ml, normality, sample_ml);
    const parts = alkalinityParts(p, total);
    const compared =
      p <= 0
        ? "P = 0"
        : p >= total
          ? "P = T"
          : p === total / 2
            ? "P = T/2"
            : p < total / 2
              ? "P < T/2"
              : "P > T/2";
    return {
      outputs: {
        total_mg_l_caco3: total,
        hydroxide_mg_l_caco3: parts.hydroxide,
        carbonate_mg_l_caco3: parts.carbonate,
        bicarbonate_mg_l_caco3: parts.bicarbonate,
      },
      working: [
        ...working,
        line("P", phenolphthalein_ml, p),
        `${compared}: hydroxide ${n4(parts.hydroxide)}, carbonate ${n4(parts.carbonate)}, bicarbonate ${n4(parts.bicarbonate)} mg/L CaCO3`,
      ],
      warnings,
    };
  },
});

const titrant = (what: string) => ({
  titrant_ml: volume(what, 1000),
  blank_ml: volume("Blank", 1000).default(0),
});
const aboveBlank = (i: { titrant_ml: number; blank_ml: number }) => i.blank_ml <= i.titrant_ml;
const blankError = { path: ["blank_ml"], error: "The blank took more titrant than the sample." };

/** Hardness by EDTA. Check value: 12.5 mL for 50 mL with 1 mg/mL is 250 mg/L of CaCO3. */
export const hardnessTitrationCalculator = defineCalculator({
  id: "hardness-titration",
  title: "Hardness by titration",
  purpose: "Turn millilitres of EDTA into total hardness.",
  input: z
    .object({
      ...titrant("EDTA used"),
      mg_caco3_per_ml: some("CaCO3 that 1 mL of EDTA takes, mg", "", 1000).default(1),
      sample_ml: measured("Sample", "mL", 0.1, 5000),
    })
    .refine(aboveBlank, blankError),
  output: z.object({ hardness_mg_l_caco3: z.number() }),
  sources: ["Standard Methods 2340 C"],
  example: { titrant_ml: 12.6, blank_ml: 0.1, mg_caco3_per_ml: 1, sample_ml: 50 },
  compute({ titrant_ml, blank_ml, mg_caco3_per_ml, sample_ml }) {
    const hardness = hardnessByTitration(titrant_ml, blank_ml, mg_caco3_per_ml, sample_ml);
    return {
      outputs: { hardness_mg_l_caco3: hardness },
      working: [
        "mg/L CaCO3 = (A − blank) · B · 1000 / Vs",
        `mg/L CaCO3 = (${formatNumber(titrant_ml, 2)} − ${formatNumber(blank_ml, 2)}) · ${n4(mg_caco3_per_ml)} · 1000 / ${n4(sample_ml)} = ${n4(hardness)} mg/L CaCO3`,
      ],
      warnings: implausible(hardness, 50_000, "Hardness"),
    };
  },
});

/** Chloride by silver nitrate. Check value: 1 mL of 0.0141 N for 100 mL is 5.00 mg/L. */
export const chlorideTitrationCalculator = defineCalculator({
  id: "chloride-titration",
  title: "Chloride by titration",
  purpose: "Turn millilitres of silver nitrate into chloride.",
  input: z
    .object({
      ...titrant("Silver nitrate used"),
      normality: some("Normality of the silver nitrate", "eq/L", 10),
      sample_ml: measured("Sample", "mL", 0.1, 5000),
    })
    .refine(aboveBlank, blankError),
  output: z.object({ chloride_mg_l: z.number() }),
  sources: ["Standard Methods 4500-Cl B"],
  example: { titrant_ml: 6.3, blank_ml: 0.2, normality: 0.0141, sample_ml: 100 },
  compute({ titrant_ml, blank_ml, normality, sample_ml }) {
    const chloride = chlorideByTitration(titrant_ml, blank_ml, normality, sample_ml);
    return {
      outputs: { chloride_mg_l: chloride },
      working: [
        "mg/L = (A − blank) · N · 35 450 / Vs",
        `mg/L = (${formatNumber(titrant_ml, 2)} − ${formatNumber(blank_ml, 2)}) · ${formatSignificant(normality, 3)} · 35 450 / ${n4(sample_ml)} = ${formatSignificant(chloride, 3)} mg/L`,
      ],
      warnings: implausible(chloride, 200_000, "Chloride"),
    };
  },
});

import { z } from "zod";
import { kitSchema } from "./kit";
import { lotBaseSchema } from "./lotBase";

/** Everything on the shelf that no meter is calibrated with. */
export const supplyKinds = [
  "titrant",
  "reagent",
  "indicator",
  "kit",
  "strips",
  "chemical",
  "control-sample",
  "rinse-water",
  "consumable",
] as const;
export type SupplyKind = (typeof supplyKinds)[number];

/** Of which a strength may be known: what is titrated with, a standard, a control. */
export const strongKinds: readonly SupplyKind[] = ["titrant", "reagent", "control-sample"];

/** What each kind is called, one and many, and in what it is usually counted. */
export const supplyFacts: Record<SupplyKind, { words: string; many: string; unit: string }> = {
  titrant: { words: "Titrant", many: "Titrants", unit: "mL" },
  reagent: { words: "Reagent", many: "Reagents", unit: "mL" },
  indicator: { words: "Indicator", many: "Indicators", unit: "mL" },
  kit: { words: "Test kit", many: "Test kits", unit: "tests" },
  strips: { words: "Test strips", many: "Test strips", unit: "strips" },
  chemical: { words: "Chemical to weigh", many: "Chemicals to weigh", unit: "g" },
  "control-sample": { words: "Control sample", many: "Control samples", unit: "mL" },
  "rinse-water": { words: "Rinse water", many: "Rinse water", unit: "mL" },
  consumable: { words: "Consumable", many: "Consumables", unit: "pieces" },
};

/** What is known of a solution's strength. */
export const strengthSchema = z.object({
  value: z.number({ error: "Give its strength." }).positive({ error: "A strength is more than zero." }),
  /** Standard uncertainty, in the same unit. */
  uncertainty: z
    .number({ error: "Give the uncertainty of its strength." })
    .min(0, { error: "An uncertainty is never negative." }),
  unit: z.enum(["N", "mg/mL", "mg/L"], { error: "A strength is in N, in mg of CaCO3 a mL, or in mg/L." }),
  /** What it is of, where that is not the titrant itself: `NO3-N`. */
  of: z.string().trim().max(40).optional(),
});

export const supplyLotSchema = lotBaseSchema
  .extend({
    kind: z.enum(supplyKinds),
    /** As which materials of methods it serves, by their names. */
    serves: z.array(z.string().trim().min(1).max(80)).max(20),
    /** Of a titrant: as it was bought, or as it was standardised. */
    strength: strengthSchema.nullable(),
    /** Of a chemical: what it is, for weighing out. */
    formula: z.string().trim().max(60),
    purity_percent: z
      .number({ error: "Give its purity in percent." })
      .positive({ error: "More than nothing." })
      .max(100, { error: "Not more than 100 %." })
      .nullable(),
    kit: kitSchema.nullable(),
  })
  .superRefine((lot, issue) => {
    const at = (path: (string | number)[], message: string) =>
      issue.addIssue({ code: "custom", path, message });
    if (lot.kind === "titrant" && lot.serves.length === 0)
      at(["serves"], "Say which titrant of a method it is.");
    if (lot.kit && lot.strength) at(["kit"], "A titrant is no kit.");
  });
export type SupplyLot = z.infer<typeof supplyLotSchema>;

/** Whether a lot serves as a material of a method: by its name, whatever its letters. */
export const servesAs = (lot: Pick<SupplyLot, "serves">, material: string): boolean =>
  lot.serves.some((name) => name.toLowerCase() === material.toLowerCase());

import { z } from "zod";
import { measurands } from "../quantity/measurand";
import { bufferIds } from "../reference/phBuffers";
import { redoxStandards, referenceElectrodes } from "../reference/redox";
import { lotBaseSchema } from "./lotBase";

export const standardKinds = [
  "ph-buffer",
  "conductivity-standard",
  "zero-oxygen",
  "redox-standard",
  "absorbance-standard",
  "concentration-standard",
] as const;
export type StandardKind = (typeof standardKinds)[number];

/** What each kind of standard is for, and the unit its certificate states. */
export const standardFacts: Record<
  StandardKind,
  { words: string; measurand: (typeof measurands)[number]; unit: string; decimals: number }
> = {
  "ph-buffer": { words: "pH buffer", measurand: "ph", unit: "pH", decimals: 2 },
  "conductivity-standard": {
    words: "Conductivity standard",
    measurand: "conductivity",
    unit: "µS/cm",
    decimals: 0,
  },
  "zero-oxygen": { words: "Zero-oxygen solution", measurand: "oxygen", unit: "mg/L", decimals: 1 },
  "redox-standard": { words: "Redox standard", measurand: "redox", unit: "mV", decimals: 0 },
  "absorbance-standard": { words: "Absorbance standard", measurand: "absorbance", unit: "A", decimals: 3 },
  "concentration-standard": {
    words: "Standard for a photometer curve",
    measurand: "absorbance",
    unit: "mg/L",
    decimals: 2,
  },
};

/** One row of a lot's certificate. */
const certifiedValueSchema = z.object({
  temperature_c: z.number({ error: "Give a temperature in °C." }).min(-5).max(100),
  value: z
    .number({ error: "Give the certified value." })
    .min(-2000, { error: "No standard has such a value." })
    .max(1_000_000, { error: "No standard has such a value." }),
});
export type CertifiedValue = z.infer<typeof certifiedValueSchema>;

/** A lot of a standard: the one definition for forms, actions, files and evidence. */
export const standardLotSchema = lotBaseSchema
  .extend({
    kind: z.enum(standardKinds),
    /** Which buffer or redox standard it is; empty for the others. */
    material: z.string(),
    /** The electrode a redox standard's table is against. */
    reference: z.enum(Object.keys(referenceElectrodes) as [keyof typeof referenceElectrodes]).nullable(),
    uncertainty: z
      .number({ error: "Give the certificate's uncertainty." })
      .min(0, { error: "An uncertainty is never negative." }),
    table: z.array(certifiedValueSchema).min(1, { error: "Give the certified value." }),
    shelf_life_open_days: z
      .number({ error: "Give the days it keeps once opened." })
      .int({ error: "Whole days, please." })
      .min(1, { error: "At least one day." })
      .max(1095),
  })
  .superRefine((lot, issue) => {
    const at = (path: (string | number)[], message: string) =>
      issue.addIssue({ code: "custom", path, message });
    if (lot.kind === "ph-buffer") {
      if (!(bufferIds as readonly string[]).includes(lot.material))
        at(["material"], "Choose which buffer it is.");
      if (lot.table.length < 2) at(["table"], "A certificate table needs at least two temperatures.");
      lot.table.forEach((row, i) => {
        if (!(row.value >= 0 && row.value <= 14))
          at(["table", i, "value"], "A buffer's pH lies between 0 and 14.");
      });
      if (lot.uncertainty > 0.5) at(["uncertainty"], "An uncertainty above 0.5 pH is no buffer.");
    }
    if (lot.kind === "redox-standard") {
      if (!(redoxStandards as readonly string[]).includes(lot.material))
        at(["material"], "Choose which redox standard it is.");
      if (!lot.reference) at(["reference"], "Say which reference electrode its values are against.");
    }
    const positive = lot.kind === "conductivity-standard" || lot.kind === "absorbance-standard";
    if (positive && lot.table.some((row) => !(row.value > 0)))
      at(["table"], "The certified value must be more than zero.");
  });
export type StandardLot = z.infer<typeof standardLotSchema>;

/** The lot as a calibration keeps it: everything needed to defend the value later. */
export const standardSnapshotSchema = z.object({
  id: z.string(),
  version: z.number().int(),
  kind: z.enum(standardKinds),
  measurand: z.enum(measurands),
  code: z.string(),
  name: z.string(),
  material: z.string(),
  reference: standardLotSchema.shape.reference,
  /** Its value at 25 °C, or the only one it has: what people call it by. */
  nominal: z.number(),
  uncertainty: z.number(),
  table: z.array(certifiedValueSchema),
  opened_on: z.string().nullable(),
  good_until: z.string(),
  condition: z.enum(["good", "expired", "open-too-long", "withdrawn"]),
  condition_sentence: z.string(),
  /** Why a lot that is not good was used all the same. */
  reason_for_use: z.string().nullable(),
});
export type StandardSnapshot = z.infer<typeof standardSnapshotSchema>;

/** What a standard is called at the bench. Check value: a buffer of 7.00 is "Buffer 7.00". */
export function standardName(standard: Pick<StandardSnapshot, "kind" | "nominal" | "name">): string {
  const { unit, decimals } = standardFacts[standard.kind];
  const number = standard.nominal.toFixed(decimals);
  if (standard.kind === "ph-buffer") return `Buffer ${number}`;
  if (standard.kind === "zero-oxygen") return "Zero solution";
  return `${number} ${unit}`;
}

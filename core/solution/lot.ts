import dayjs from "dayjs";
import { z } from "zod";
import { bufferIds } from "../reference/phBuffers";

export const dateSchema = z.iso.date({ error: "Give a date as year-month-day." });

/** One row of a lot's certificate. */
const certifiedValueSchema = z.object({
  temperature_c: z.number({ error: "Give a temperature in °C." }).min(-5).max(100),
  ph: z.number({ error: "Give a pH." }).min(0).max(14),
});

/** A lot of pH buffer: the one definition for forms, actions, files and evidence. */
export const bufferLotSchema = z.object({
  kind: z.literal("ph-buffer"),
  code: z
    .string()
    .trim()
    .min(1, { error: "Give the lot a code you can find on the bottle." })
    .max(24, { error: "Keep the code under 25 characters." }),
  name: z.string().trim().min(1, { error: "Give the buffer a name." }).max(60),
  buffer: z.enum(bufferIds, { error: "Choose which buffer it is." }),
  uncertainty_ph: z
    .number({ error: "Give the certificate's uncertainty in pH." })
    .min(0, { error: "An uncertainty is never negative." })
    .max(0.5, { error: "An uncertainty above 0.5 pH is no buffer." }),
  table: z
    .array(certifiedValueSchema)
    .min(2, { error: "A certificate table needs at least two temperatures." }),
  received_on: dateSchema,
  opened_on: dateSchema.nullable(),
  expires_on: dateSchema,
  shelf_life_open_days: z
    .number({ error: "Give the days it keeps once opened." })
    .int({ error: "Whole days, please." })
    .min(1, { error: "At least one day." })
    .max(1095),
  withdrawn: z.object({ on: dateSchema, reason: z.string().trim().min(1) }).nullable(),
});

export type BufferLot = z.infer<typeof bufferLotSchema>;

export interface LotCondition {
  state: "good" | "expired" | "open-too-long" | "withdrawn";
  /** The last day on which it is good, whichever limit comes first (ISO date). */
  good_until: string;
  sentence: string;
}

const day = (iso: string) => dayjs(iso).format("D MMM YYYY");

/**
 * What may be said of a lot on a day (ISO date): its printed expiry and its life after opening both count.
 * Source: common practice. Check value: opened 2026-01-01 with 30 days is good until 2026-01-31.
 */
export function lotCondition(lot: BufferLot, onDate: string): LotCondition {
  const openUntil = lot.opened_on
    ? dayjs(lot.opened_on).add(lot.shelf_life_open_days, "day").format("YYYY-MM-DD")
    : null;
  const good_until = openUntil && openUntil < lot.expires_on ? openUntil : lot.expires_on;
  if (lot.withdrawn && lot.withdrawn.on <= onDate) {
    return {
      state: "withdrawn",
      good_until,
      sentence: `Withdrawn on ${day(lot.withdrawn.on)}: ${lot.withdrawn.reason}`,
    };
  }
  if (lot.expires_on < onDate) {
    return { state: "expired", good_until, sentence: `Expired on ${day(lot.expires_on)}.` };
  }
  if (openUntil && openUntil < onDate) {
    return {
      state: "open-too-long",
      good_until,
      sentence: `Opened ${dayjs(onDate).diff(lot.opened_on, "day")} days ago; it keeps ${lot.shelf_life_open_days} days once opened.`,
    };
  }
  return { state: "good", good_until, sentence: `Good until ${day(good_until)}.` };
}

/** The lot as a calibration keeps it: everything needed to defend the value later. */
export const lotSnapshotSchema = z.object({
  id: z.string(),
  version: z.number().int(),
  code: z.string(),
  name: z.string(),
  nominal_ph: z.number(),
  uncertainty_ph: z.number(),
  table: z.array(certifiedValueSchema),
  opened_on: z.string().nullable(),
  good_until: z.string(),
  condition: z.enum(["good", "expired", "open-too-long", "withdrawn"]),
  condition_sentence: z.string(),
  /** Why a lot that is not good was used all the same. */
  reason_for_use: z.string().nullable(),
});
export type LotSnapshot = z.infer<typeof lotSnapshotSchema>;

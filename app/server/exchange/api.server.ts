import type { Knex } from "knex";
import { z } from "zod";
import { verdicts } from "../../../core/judgement/finding";
import { measurands } from "../../../core/quantity/measurand";
import { standardKinds } from "../../../core/stock/standard";
import { supplyKinds } from "../../../core/stock/supply";
import { localDate } from "../../../core/time/local";
import { latestCalibrations } from "../calibrations/calibrations.server";
import type { DueEntry } from "../day/dueEntry";
import { allMeters } from "../meters/meters.server";
import { ledgerQuerySchema } from "../results/ledger.server";
import { findReading, judgementsOf } from "../results/readings.server";
import { listLimitSets } from "../rules/limitSets.server";
import { rulesInForce } from "../rules/rules.server";
import { allSites } from "../sites/sites.server";
import { onShelf } from "../stock/lots.server";
import { exportedReading, exportedReadingSchema } from "./exports.server";
import { readingsFrom } from "./ledgerExport.server";

/** What other programs read, as they see it: shapes that are published and kept. A new version gets a new address. */
const moment = z.string().meta({ format: "date-time", description: "UTC." });
const day = z.string().meta({ format: "date", description: "A day in the house's time zone." });

export const readingsQuerySchema = z
  .strictObject({
    site: z.string().max(40).optional().meta({ description: "Id of a site." }),
    meter: z.string().max(40).optional().meta({ description: "Id of a meter." }),
    parameter: z.string().max(60).optional(),
    verdict: z.enum(verdicts).optional(),
    kind: ledgerQuerySchema.shape.kind.unwrap().optional(),
    from: z.iso.date().optional().meta({ description: "First day, in the house's time zone." }),
    to: z.iso.date().optional().meta({ description: "Last day." }),
    sample: z.string().trim().min(1).max(60).optional().meta({ description: "What its name begins with." }),
    order: z.enum(["asc", "desc"]).default("desc").meta({ description: "By when it was measured." }),
    limit: z.coerce.number().int().min(1).max(500).default(100),
    after: z.string().max(200).optional().meta({ description: "`next` of the page before." }),
  })
  .meta({ id: "ReadingsQuery" });
export type ReadingsQuery = z.output<typeof readingsQuerySchema>;

const readingSchema = exportedReadingSchema.meta({ id: "Reading" });

export const readingsPageSchema = z
  .object({
    readings: z.array(readingSchema),
    next: z.string().nullable().meta({ description: "Ask with `after` for what follows; null at the end." }),
  })
  .meta({ id: "ReadingsPage" });

export const wholeReadingSchema = z
  .object({
    reading: readingSchema,
    judgements: z
      .array(
        z.object({
          at: moment,
          value: z.number().nullable(),
          verdict: z.enum(verdicts),
          cause: z.string(),
          rules_version: z.number().int(),
        }),
      )
      .meta({ description: "Every judgement it had, the first one first." }),
  })
  .meta({ id: "WholeReading" });

export const siteSchema = z
  .object({
    id: z.string(),
    name: z.string(),
    water: z.string(),
    altitude_m: z.number().nullable(),
    limit_sets: z.array(z.string()),
    in_use: z.boolean(),
  })
  .meta({ id: "Site" });

export const meterSchema = z
  .object({
    id: z.string(),
    code: z.string(),
    name: z.string(),
    place: z.string(),
    in_use: z.boolean(),
    calibrations: z.array(
      z.object({
        id: z.string(),
        measurand: z.enum(measurands),
        finished_at: moment,
        valid_until: moment,
        in_force: z.boolean(),
        verdict: z.string(),
        headline: z.string(),
      }),
    ),
  })
  .meta({ id: "Meter" });

export const lotSchema = z
  .object({
    id: z.string(),
    code: z.string(),
    name: z.string(),
    kind: z.string(),
    opened_on: day.nullable(),
    expires_on: day.nullable(),
    good_until: day.nullable(),
    condition: z.string().meta({ description: "Whether it may be used today, in a word." }),
    sentence: z.string(),
    portions_left: z.number().nullable(),
  })
  .meta({ id: "Lot" });

export const dueSchema = z
  .object({
    id: z.string(),
    kind: z.string(),
    title: z.string(),
    detail: z.string(),
    at: moment.meta({ description: "When it is due, UTC; at or before now means at once." }),
    href: z.string().meta({ description: "Where in Brintel it is done." }),
  })
  .meta({ id: "Due" });

/** One page of readings. */
export async function readingsForPrograms(
  db: Knex,
  { sample, limit, ...rest }: ReadingsQuery,
): Promise<z.input<typeof readingsPageSchema>> {
  const query = ledgerQuerySchema.parse({ ...rest, text: sample, sort: "measured_at" });
  const { page, next } = await readingsFrom(db, query, limit);
  const sets = await listLimitSets(db);
  return { readings: page.map((r) => exportedReading(r, sets)), next: next ?? null };
}

/** One reading with its history; undefined when there is none of this id. */
export async function readingForPrograms(
  db: Knex,
  id: string,
): Promise<z.input<typeof wholeReadingSchema> | undefined> {
  const reading = await findReading(db, id);
  if (!reading) return undefined;
  const judgements = await judgementsOf(db, id);
  return {
    reading: exportedReading(reading, await listLimitSets(db)),
    judgements: judgements.map(({ at, value, verdict, cause, rules_version }) => ({
      at,
      value,
      verdict,
      cause,
      rules_version,
    })),
  };
}

export const sitesForPrograms = async (db: Knex): Promise<z.input<typeof siteSchema>[]> =>
  (await allSites(db)).map(({ id, name, water, altitude_m, limit_sets, out_of_use }) => ({
    id,
    name,
    in_use: out_of_use === null,
    water,
    altitude_m,
    limit_sets,
  }));

/** Meters with the last calibration of each quantity. */
export async function metersForPrograms(db: Knex, now: string): Promise<z.input<typeof meterSchema>[]> {
  const [meters, calibrations] = await Promise.all([allMeters(db), latestCalibrations(db)]);
  return meters.map(({ id, code, name, place, out_of_use }) => ({
    id,
    in_use: out_of_use === null,
    code,
    name,
    place,
    calibrations: calibrations
      .filter((c) => c.meter_id === id)
      .map((c) => ({
        id: c.id,
        measurand: c.measurand,
        finished_at: c.finished_at,
        valid_until: c.valid_until,
        in_force: c.valid_until > now && c.verdict !== "failed",
        verdict: c.verdict,
        headline: c.headline,
      })),
  }));
}

/** What stands on the shelf today. */
export async function lotsForPrograms(db: Knex, now: string): Promise<z.input<typeof lotSchema>[]> {
  const today = localDate(now, (await rulesInForce(db)).rules.zone);
  return (await onShelf(db, today, [...standardKinds, ...supplyKinds])).map(
    ({ id, lot, condition, portions_left }) => ({
      id,
      code: lot.code,
      name: lot.name,
      kind: lot.kind,
      opened_on: lot.opened_on,
      expires_on: lot.expires_on,
      good_until: condition.good_until,
      condition: condition.state,
      sentence: condition.sentence,
      portions_left,
    }),
  );
}

export const dueForPrograms = (due: readonly DueEntry[]): z.input<typeof dueSchema>[] =>
  due.map(({ id, kind, title, detail, at, href }) => ({ id, kind, title, detail, at, href }));

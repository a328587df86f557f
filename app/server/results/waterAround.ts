import type { Knex } from "knex";
import { checkKinds } from "../../../core/bench/resultKinds";

/** A moment so many minutes later. */
export const shifted = (iso: string, minutes: number) =>
  new Date(Date.parse(iso) + minutes * 60_000).toISOString();

/**
 * Bounds a query of results of a site and a parameter to samples whose water was taken within so many minutes of a moment: when it was filled
 * into a bottle, or when it was measured, where nothing else is known. Each of the two has an index that begins with site and parameter.
 */
export function whereWaterAround(
  query: Knex.QueryBuilder,
  moment: string,
  within_min: number,
): Knex.QueryBuilder {
  const span: [string, string] = [shifted(moment, -within_min), shifted(moment, within_min)];
  // By what it is not: nearly everything is a sample, and an index of those would be no help.
  return query
    .whereNotIn("readings.kind", [...checkKinds])
    .where((q) =>
      q
        .where((measured) =>
          measured.whereNull("readings.collected_at").whereBetween("readings.measured_at", span),
        )
        .orWhereBetween("readings.collected_at", span),
    );
}

/** When the water of a result was taken, as far as it is known. */
export const waterAt = (r: { collected_at: string | null; measured_at: string }): string =>
  r.collected_at ?? r.measured_at;

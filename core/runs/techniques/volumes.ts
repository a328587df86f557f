import { err, ok, type Result } from "../../quantity/result";

/** Readings of a burette or syringe: where it began, each refill, where it ended. */
export interface Volumes {
  start: number | null;
  /** The scale at a first end point on the way, as at pH 8.3. */
  first?: number | null;
  refills: readonly { before: number; after: number }[];
  end: number | null;
}

/** The end point was passed and brought back with this much of what the titrant consumes, in the titrant's own measure. */
export type Overshot = { back_ml: number | null } | null | undefined;

/**
 * What a burette or syringe gave, refills added up. Errors: `not-read` while the end is missing, `backwards`.
 * Units: those of its scale. Check value: 0.0 to 9.6, refilled to 0.2, to 1.4 is 10.8.
 */
export function volumeUsed({ start, refills, end }: Volumes): Result<number> {
  if (start === null) return err("not-read", "Read the scale before you begin.");
  if (end === null) return err("not-read", "Read the scale at the end point.");
  let [used, from] = [0, start];
  for (const { before, after } of [...refills, { before: end, after: end }]) {
    if (before < from - 1e-9)
      return err("backwards", "A later reading of the scale is smaller than an earlier one.");
    used += before - from;
    from = after;
  }
  return ok(used);
}

/** What had been given at the first end point; null where there was none. Before any refill, as titrations go. */
export const volumeAtFirst = ({ start, first }: Volumes): number | null =>
  start === null || first == null ? null : first - start;

/**
 * What of the titrant the sample itself took: what was given, less what was added back after the end point was passed.
 * Errors: `backwards` when more came back than was given. Units: those of the scale, or drops.
 * Check value: 10.8 mL with 0.4 mL added back is 10.4 mL.
 */
export function lessBack(used: Result<number>, overshot: Overshot): Result<number> {
  const back = overshot?.back_ml ?? 0;
  if (!used.ok || back === 0) return used;
  return back > used.value
    ? err("backwards", "More was added back than was titrated. Look at both volumes again.")
    : ok(used.value - back);
}

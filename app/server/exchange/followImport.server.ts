import type { Knex } from "knex";
import type { Finishing } from "../bench/benchWork.server";
import { type HeldBeside, heldBeside, heldOf, holdBeside } from "../quality/together.server";
import { followDerived, WIDEST_MIN } from "../results/derived.server";
import { waterAt } from "../results/waterAround";
import { rulesInForce } from "../rules/rules.server";

/** A bottle is tested no later than so many minutes after it was filled: sixty days. */
const KEPT_MIN = 60 * 24 * 60;
/** So many results are followed at once. */
const atOnce = 100;

/** What a test of ammonia is reckoned with. */
const withAmmonia: ReadonlySet<string> = new Set(["ph", "temperature"]);
/** The quantities of a file on which something in the record may rest. */
export const followedParameters: readonly string[] = [...withAmmonia, ...heldBeside];

interface Came {
  site_id: string;
  parameter: string;
  measured_at: string;
}

/**
 * Follows results that came or were taken out by the thousand, as in a file, to what is in the record and rests on them: tests that are
 * reckoned with the pH and temperature of their water, and results that are held beside its conductivity. The results of the file begin
 * nothing themselves: of a file of years that would be as many again.
 */
export async function followImport(trx: Knex, came: readonly Came[], finishing: Finishing): Promise<void> {
  for (const [site_id, moments] of bySite(came, (p) => withAmmonia.has(p))) {
    const tests: { id: string; at: string }[] = await trx("readings")
      .where({ site_id, parameter: "ammonia", kind: "sample" })
      .whereIn("source", ["analysis", "laboratory"])
      .whereNot("verdict", "void")
      .whereBetween("measured_at", spanOf(moments, WIDEST_MIN, KEPT_MIN))
      .orderBy("measured_at")
      .select("id", trx.raw("coalesce(collected_at, measured_at) as at"));
    const near = tests.filter(({ at }) => isNear(moments, at, WIDEST_MIN));
    for (let from = 0; from < near.length; from += atOnce)
      await followDerived(
        trx,
        near.slice(from, from + atOnce).map((t) => t.id),
        finishing,
      );
  }
  const { within_min } = (await rulesInForce(trx)).rules.derived;
  for (const parameter of heldBeside)
    for (const [site_id, moments] of bySite(came, (p) => p === parameter)) {
      const held: HeldBeside[] = await heldOf(trx, site_id, parameter).whereBetween(
        "measured_at",
        spanOf(moments, within_min, KEPT_MIN),
      );
      const near = held.filter((r) => isNear(moments, waterAt(r), within_min));
      for (let from = 0; from < near.length; from += atOnce)
        await holdBeside(trx, near.slice(from, from + atOnce), parameter, finishing);
    }
}

/** The moments of some quantities at each site, in their order. */
function bySite(came: readonly Came[], which: (parameter: string) => boolean): Map<string, number[]> {
  const moments = new Map<string, number[]>();
  for (const { site_id, parameter, measured_at } of came) {
    if (!which(parameter)) continue;
    const own = moments.get(site_id) ?? [];
    moments.set(site_id, own);
    own.push(Date.parse(measured_at));
  }
  for (const own of moments.values()) own.sort((a, b) => a - b);
  return moments;
}

/** From so long before the first of some moments to so long after the last. */
const spanOf = (moments: readonly number[], before_min: number, after_min: number): [string, string] => [
  new Date((moments[0] ?? 0) - before_min * 60_000).toISOString(),
  new Date((moments.at(-1) ?? 0) + after_min * 60_000).toISOString(),
];

/** Whether one of some moments, in their order, lies within so many minutes of another. Check value: of 1 and 9, the first is within 2 of 3. */
function isNear(moments: readonly number[], iso: string, within_min: number): boolean {
  const [at, within] = [Date.parse(iso), within_min * 60_000];
  let [low, high] = [0, moments.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((moments[middle] as number) < at - within) low = middle + 1;
    else high = middle;
  }
  return low < moments.length && (moments[low] as number) <= at + within;
}

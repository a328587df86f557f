import type { Knex } from "knex";
import {
  type ProfilePoint,
  type ProfileStep,
  profileSteps,
  usualScatter,
} from "../../../core/samples/profile";
import { waterLines } from "../../../core/samples/site";
import { localDate } from "../../../core/time/local";
import { addDays, dayStart } from "../../../core/time/zone";
import { knownParameters } from "../results/latest.server";
import { latestBySite, type ReadingRow } from "../results/readings.server";
import { rulesInForce } from "../rules/rules.server";
import { sitesInUse } from "./sites.server";
import { smallTrends } from "./trends.server";

/** So many of the last values say how much a place varies. */
const lately = 6;
/** Values this old still say how a place varies, days. */
const trend_days = 84;
/** A value older than this belongs to another state of the water, days. */
const round_days = 28;

/**
 * A quantity along the water: the newest value of each site in the order of the water, how much the site usually varies, and
 * the steps between neighbours that this does not explain. `of` is `parameter|analyte`.
 */
export async function loadAlong(db: Knex, of: string | null, now: string) {
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(now, zone);
  const [sites, latest, known] = await Promise.all([sitesInUse(db), latestBySite(db), knownParameters(db)]);
  const keyOf = (r: { parameter: string; analyte: string }) => `${r.parameter}|${r.analyte}`;
  // What most sites have a value of says most, when nobody has asked.
  const spread = (key: string) =>
    [...latest.values()].filter((readings) => readings.some((r) => keyOf(r) === key)).length;
  const [widest] = [...known].sort((a, b) => spread(keyOf(b)) - spread(keyOf(a)));
  const chosen = known.find((k) => keyOf(k) === of) ?? widest;
  const trends = chosen ? await smallTrends(db, dayStart(addDays(today, -trend_days), zone), chosen) : [];
  const recent = dayStart(addDays(today, -round_days), zone);
  // Each arm of the water is a line of its own, from its top down.
  const along = waterLines(sites).flatMap((line) => line.sites);
  const places = along.flatMap((site, i) => {
    const reading = chosen && (latest.get(site.id) ?? []).find((r) => keyOf(r) === keyOf(chosen));
    if (!reading || reading.value === null || reading.measured_at < recent) return [];
    const points = trends.find((t) => t.site_id === site.id)?.points.slice(-lately) ?? [];
    const values = points.map(([, value]) => value);
    return [
      {
        site: site.id,
        name: site.name,
        branch: site.place.branch,
        km: site.place.km,
        // Larger is further up.
        place: sites.length - i,
        reading,
        value: reading.value,
        u: atLeastStep(usualScatter(values, reading.decimals), reading),
      },
    ];
  });
  const sure = places.filter((p): p is typeof p & { u: number } => p.u !== null);
  const steps = waterLines(sites).flatMap(({ branch }) =>
    profileSteps(
      sure
        .filter((p) => p.branch === branch)
        .map(({ site, place, value, u }): ProfilePoint => ({ site, place, value, u })),
    ),
  );
  return {
    zone,
    of: chosen ? keyOf(chosen) : null,
    known: known.map((k) => ({ value: keyOf(k), label: k.analyte })),
    unit: places[0]?.reading.unit ?? "",
    decimals: places[0]?.reading.decimals ?? 2,
    places: places.map(({ reading, ...p }) => ({ ...p, ...shownOf(reading) })),
    steps: steps.map((s) => ({
      above: s.upstream.site,
      below: s.downstream.site,
      half_km: halfWay(places, s),
      change: s.change,
      explained: s.explained,
    })),
  };
}

/** Half the way between the two sites of a step, km; null where their distance is not known. */
function halfWay(
  places: readonly { site: string; km: number | null }[],
  { upstream, downstream }: ProfileStep,
): number | null {
  const [above, below] = [upstream, downstream].map((p) => places.find((q) => q.site === p.site)?.km ?? null);
  return above == null || below == null || below <= above ? null : (below - above) / 2;
}

/** A value read between two steps of a scale is at least as unsure as the steps are apart. Source: JCGM 100, 4.3.7. */
const atLeastStep = (
  scatter: number | null,
  { low, high }: Pick<ReadingRow, "low" | "high">,
): number | null =>
  scatter === null || low === null || high === null
    ? scatter
    : Math.max(scatter, (high - low) / 2 / Math.sqrt(3));

const shownOf = ({ id, verdict, measured_at, work_id, source, parameter }: ReadingRow) => ({
  id,
  verdict,
  measured_at,
  work_id,
  source,
  parameter,
});

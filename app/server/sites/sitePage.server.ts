import type { Knex } from "knex";
import { analyteOrder } from "../../../core/quantity/measurand";
import { localDate } from "../../../core/time/local";
import { addDays, dayBounds } from "../../../core/time/zone";
import { ledgerQuerySchema } from "../results/ledger.server";
import { latestOfSite } from "../results/readings.server";
import { valuesInTime } from "../results/valuesInTime.server";
import { type StoredLimitSet, storedLimitSets } from "../rules/limitSets.server";
import { rulesInForce } from "../rules/rules.server";
import { recentVisits } from "../visits/visits.server";
import { complianceOf } from "./compliance.server";
import { beyond } from "./meaning.server";
import { photosOfSite } from "./sitePhotos.server";
import { findSite, sitesInUse } from "./sites.server";
import { smallTrends } from "./trends.server";

/** Everything the page of a site shows; null when there is no such site. `of` is the quantity to draw. */
export async function loadSite(db: Knex, id: string, of: string | null, now: string) {
  const site = await findSite(db, id);
  if (!site) return null;
  const { zone } = (await rulesInForce(db)).rules;
  const days = dayBounds(zone);
  const from = addDays(localDate(now, zone), -84);
  const [sites, latest, storedSets, trends, visits, photos] = await Promise.all([
    sitesInUse(db),
    latestOfSite(db, id),
    storedLimitSets(db),
    smallTrends(db, days.start(from), { site_id: id }),
    recentVisits(db, id, 6),
    photosOfSite(db, id),
  ]);
  const year = days.start(addDays(localDate(now, zone), -365));
  const holds = ({ set }: StoredLimitSet) => site.limit_sets.includes(set.id);
  const held = storedSets.filter(holds).map(({ set }) => set);
  const quantities = latest
    .sort(
      (a, b) => analyteOrder(a.parameter) - analyteOrder(b.parameter) || a.analyte.localeCompare(b.analyte),
    )
    .map((reading) => ({
      reading,
      meaning: beyond(reading, held),
      points:
        trends.find((t) => t.parameter === reading.parameter && t.analyte === reading.analyte)?.points ?? [],
    }));
  const drawn =
    quantities.find((q) => q.reading.parameter === of) ??
    // What was not measured lately has nothing to draw.
    quantities.find((q) => q.points.length > 0) ??
    quantities[0];
  return {
    site,
    zone,
    place: { at: sites.findIndex((s) => s.id === id) + 1, of: sites.length },
    of: drawn?.reading.parameter ?? null,
    quantities,
    visits,
    photos,
    compliance: await complianceOf(db, id, held, year),
    // What is out of use is offered only where it holds, to be let go.
    limitSets: storedSets
      .filter((stored) => !stored.out_of_use || holds(stored))
      .map(({ set: { limits: _, ...set }, out_of_use }) => ({ ...set, out: out_of_use !== null })),
    chart: drawn
      ? await valuesInTime(
          db,
          ledgerQuerySchema.parse({ site: id, parameter: drawn.reading.parameter, from }),
          days,
        )
      : null,
  };
}
export type SitePage = NonNullable<Awaited<ReturnType<typeof loadSite>>>;

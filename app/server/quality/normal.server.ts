import type { Knex } from "knex";
import { normalOf } from "../../../core/results/normal";
import type { SiteNormal } from "../../../core/results/qualityEvidence";

/** So many of the newest results say what is usual; older ones belong to another state of the water. */
const LATELY = 60;

/**
 * What a site usually gave of a quantity before a moment. A result that stands under no other note than being unusual counts too: or a
 * water that has changed for good would be unusual for ever.
 */
export async function siteNormal(
  trx: Knex,
  of: { site_id: string; parameter: string; analyte: string },
  before: string,
): Promise<SiteNormal> {
  const rows: { value: number }[] = await trx("readings")
    .where({ ...of, kind: "sample" })
    .where("measured_at", "<", before)
    .whereNotNull("value")
    .where((q) =>
      q
        .where({ verdict: "sound" })
        .orWhere((unusual) =>
          unusual
            .where({ verdict: "qualified" })
            .where("findings", "like", '[{"rule":"normal"%')
            .whereNot("findings", "like", "%},{%"),
        ),
    )
    .orderBy("measured_at", "desc")
    .limit(LATELY)
    .select("value");
  return normalOf(rows.map((r) => r.value));
}

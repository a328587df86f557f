import type { Knex } from "knex";
import { stationName } from "../../../core/calibration/planned";
import { mediumOf } from "../../../core/simulation/medium";
import { mediumFor, rinseWater } from "../../../core/simulation/stationMedium";
import { standardFacts } from "../../../core/stock/standard";
import { localDate } from "../../../core/time/local";
import type { Meter } from "../meters/meters.server";
import { rulesInForce } from "../rules/rules.server";
import { findSite, sitesInUse } from "../sites/sites.server";
import { standardShelf, standardSnapshot, standardsOfIds } from "../stock/standards.server";
import { moveProbe } from "./devices.server";
import { siteWater } from "./simulatedProbe.server";

export interface Place {
  value: string;
  label: string;
}

/** Where a hand could put a meter's probe: its standards on the shelf, every site's water, air and rinse water. */
export async function placesFor(db: Knex, meter: Meter, today: string): Promise<Place[]> {
  const measured = new Set(meter.channels.map((c) => c.measurand));
  const lots = (await standardShelf(db, today)).filter(({ lot }) =>
    measured.has(standardFacts[lot.kind].measurand),
  );
  return [
    { value: "rinse", label: "Rinse water" },
    ...lots.map(({ id, lot }) => ({ value: `lot:${id}`, label: `${lot.name}, ${lot.code}` })),
    { value: "damp-air", label: "Damp air in the cup" },
    ...(await sitesInUse(db)).map((s) => ({ value: `site:${s.id}`, label: s.name })),
    { value: "air", label: "Air" },
  ];
}

/** Puts the probe where a hand outside says; false when there is no such bottle or site. */
export async function putProbe(db: Knex, meterId: string, place: string, now: string): Promise<boolean> {
  const [kind, id = ""] = place.split(":");
  const move = async (medium: Parameters<typeof moveProbe>[2]) => {
    await moveProbe(db, meterId, medium, now, "hand");
    return true;
  };
  if (kind === "rinse") return move(rinseWater);
  if (kind === "air") return move(mediumOf({ label: "air", kind: "air", redox_mv: 0 }));
  if (kind === "damp-air") return move(mediumOf({ label: "damp air", kind: "damp-air" }));
  if (kind === "lot") {
    const [stored] = await standardsOfIds(db, [id]);
    if (!stored) return false;
    const standard = standardSnapshot(stored, localDate(now, (await rulesInForce(db)).rules.zone), null);
    const station = {
      measurand: standard.measurand,
      role: standard.kind === "zero-oxygen" ? ("zero" as const) : ("point" as const),
      standard,
    };
    return move(mediumFor(station, stationName(station), { conditions: null }));
  }
  const site = await findSite(db, id);
  return site ? move(siteWater(site, site.name, `${site.id}${now.slice(0, 10)}`)) : false;
}

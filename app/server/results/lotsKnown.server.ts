import type { Knex } from "knex";
import type { EvidenceLot } from "../../../core/results/analysisEvidence";
import { lotCondition } from "../../../core/stock/lot";
import { localDate } from "../../../core/time/local";
import type { StoredLot } from "../stock/lots.server";
import { doubtedLots } from "../stock/lotUses.server";

/** The bottles of a run with what is known of each on the day they were last used (ISO, UTC), and of what it was made from. */
export async function lotsKnown(
  trx: Knex,
  lots: readonly EvidenceLot[],
  stored: readonly StoredLot[],
  used_at: string,
  zone: string,
): Promise<EvidenceLot[]> {
  const ids = lots.flatMap((l) => l.lot_id ?? []);
  const doubts = await doubtedLots(trx, ids, used_at, zone);
  const day = localDate(used_at, zone);
  return lots.map((named) => {
    const lot = stored.find((s) => s.id === named.lot_id)?.lot;
    if (!lot || !named.lot_id) return named;
    const doubt = doubts.get(named.lot_id);
    if (doubt) return { ...named, condition: { state: "withdrawn", sentence: doubt } };
    const { state, sentence } = lotCondition({ ...lot, withdrawn: null }, day);
    return { ...named, condition: { state, sentence } };
  });
}

import type { Knex } from "knex";
import { certifiedValue } from "../../../core/reference/certificate";
import { isStandard, lotCondition } from "../../../core/stock/lot";
import {
  type StandardLot,
  type StandardSnapshot,
  standardFacts,
  standardKinds,
} from "../../../core/stock/standard";
import { lotsOfIds, type OnShelf, onShelf, type StoredLot } from "./lots.server";

/** A lot that a meter is calibrated or checked with. */
export type StoredStandard = StoredLot<StandardLot>;

const isStoredStandard = (stored: StoredLot): stored is StoredStandard => isStandard(stored.lot);

export const standardsOfIds = async (db: Knex, ids: readonly string[]): Promise<StoredStandard[]> =>
  (await lotsOfIds(db, ids)).filter(isStoredStandard);

/** The value of the lot at 25 °C: the number people call it by. */
export function nominalValue(lot: StandardLot): number {
  const at25 = certifiedValue(lot.table, 25);
  return at25.ok ? at25.value : (lot.table[0]?.value ?? Number.NaN);
}

/** The lot as a calibration keeps it on a given day. */
export function standardSnapshot(
  stored: StoredStandard,
  onDate: string,
  reason: string | null,
): StandardSnapshot {
  const { lot } = stored;
  const condition = lotCondition(lot, onDate);
  return {
    id: stored.id,
    version: stored.version,
    kind: lot.kind,
    measurand: standardFacts[lot.kind].measurand,
    code: lot.code,
    name: lot.name,
    material: lot.material,
    reference: lot.reference,
    nominal: nominalValue(lot),
    uncertainty: lot.uncertainty,
    table: lot.table,
    opened_on: lot.opened_on,
    good_until: condition.good_until,
    condition: condition.state,
    condition_sentence: condition.sentence,
    reason_for_use: condition.state === "good" ? null : reason,
  };
}

export type StandardOnShelf = Omit<OnShelf, "lot"> & StoredStandard & { nominal: number };

/** The standards on the shelf of a day: by kind and value, the bottle opened longest first. */
export async function standardShelf(db: Knex, today: string): Promise<StandardOnShelf[]> {
  const found = await onShelf(db, today, standardKinds);
  return found
    .flatMap((stored) =>
      isStandard(stored.lot) ? [{ ...stored, lot: stored.lot, nominal: nominalValue(stored.lot) }] : [],
    )
    .sort((a, b) => a.lot.kind.localeCompare(b.lot.kind) || a.nominal - b.nominal || openedFirst(a, b));
}

const openedFirst = (a: StoredLot, b: StoredLot): number =>
  (a.lot.opened_on ?? "9999").localeCompare(b.lot.opened_on ?? "9999");

import type { Knex } from "knex";
import { formatWithUncertainty } from "../../../core/quantity/format";
import type { Lot } from "../../../core/stock/lot";
import { type StandardisationState, standardisedOf, takenOf } from "../../../core/stock/standardisation";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { changeLotIn } from "./lots.server";
import { writeUses } from "./lotUses.server";
import { settleStrength, standardisedNext } from "./strengthKnown.server";

/**
 * Gives the titrant the strength that was found, from the end of the work on, and writes what was used; again where an event that arrives
 * late changes it. What arrives after a later standardisation leaves that one's strength in force. What was titrated meanwhile is judged by it.
 */
export async function projectStandardisation(
  trx: Knex,
  work: BenchWork,
  state: StandardisationState,
  finishing: Finishing,
): Promise<void> {
  const found = standardisedOf(state);
  const at = state.finished_at;
  if (state.status !== "finished" || !found || !at) return;
  const { titrant, standard, guide } = state.started;
  const { unit } = guide;
  const { standard_ml, titrant_ml } = takenOf(state);
  await writeUses(trx, work.id, [
    {
      lot_id: standard.lot_id,
      role: "standardisation",
      slot: "standard",
      amount: standard_ml,
      at,
      into_lot_id: titrant.lot_id,
    },
    { lot_id: titrant.lot_id, role: "material", slot: "titrant", amount: titrant_ml, at },
  ]);
  const words = `standardised against ${standard.code}: ${formatWithUncertainty(found.value, found.uncertainty)} ${unit}`;
  const next = await standardisedNext(trx, titrant.lot_id, at);
  if (next === undefined) {
    const strength = { value: found.value, uncertainty: found.uncertainty, unit };
    const stronger = (lot: Lot) => ({ ...lot, strength }) as Lot;
    await changeLotIn(trx, titrant.lot_id, stronger, finishing.by, finishing.now, words);
  }
  await settleStrength(trx, titrant.lot_id, [at, next], `${titrant.code} was ${words}`, finishing);
}

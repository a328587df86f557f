import type { Knex } from "knex";
import { formatWithUncertainty } from "../../../core/quantity/format";
import type { Lot } from "../../../core/stock/lot";
import { type StandardisationState, standardisedOf, takenOf } from "../../../core/stock/standardisation";
import { showTime } from "../../../core/time/words";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { touchedBy } from "../results/followTakenOut.server";
import { confirmIn } from "../results/rejudge.server";
import { rulesInForce } from "../rules/rules.server";
import { changeLotIn } from "./lots.server";
import { writeUses } from "./lotUses.server";
import { settleStrength, standardisedNext, strengthWithout } from "./strengthKnown.server";

/**
 * Gives the titrant the strength that it has without what was taken out, where that was in force. What was used is gone all the same. What was
 * titrated since is judged by what is known without it, by a re-judging that is confirmed with it.
 */
async function projectTakenOut(
  trx: Knex,
  work: BenchWork,
  state: StandardisationState,
  at: string,
  reason: string,
  finishing: Finishing,
): Promise<void> {
  const { titrant, standard } = state.started;
  const { standard_ml, titrant_ml } = takenOf(state);
  const out = { role: "taken-out" as const, at };
  await writeUses(trx, work.id, [
    { ...out, lot_id: standard.lot_id, slot: "standard", amount: standard_ml },
    { ...out, lot_id: titrant.lot_id, slot: "titrant", amount: titrant_ml },
  ]);
  const { zone } = (await rulesInForce(trx)).rules;
  const words = `the standardisation of ${showTime(at, zone, "both")} was taken out: ${reason}`;
  if ((await standardisedNext(trx, titrant.lot_id, at)) === undefined) {
    const without = await strengthWithout(trx, titrant.lot_id);
    const strength =
      without && without.value !== null
        ? { value: without.value, uncertainty: without.uncertainty ?? 0, unit: without.unit }
        : null;
    const asBefore = (lot: Lot) => ({ ...lot, strength }) as Lot;
    await changeLotIn(trx, titrant.lot_id, asBefore, finishing.by, finishing.now, words);
  }
  if ((await touchedBy(trx, work.id)).length === 0) return;
  const request = { kind: "strength" as const, subject_id: work.id, subject_version: "" };
  await confirmIn(trx, request, `${titrant.code}: ${words}`, { id: finishing.by }, finishing.now);
}

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
  if (state.taken_out) return projectTakenOut(trx, work, state, at, state.taken_out.reason, finishing);
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

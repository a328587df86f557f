import type { Knex } from "knex";
import type { PreparationState } from "../../../core/stock/preparation";
import { lotOf } from "../../../core/stock/prepared";
import { localDate } from "../../../core/time/local";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { rulesOfVersion } from "../rules/rules.server";
import { addLotIn } from "./lots.server";
import { writeUses } from "./lotUses.server";

/** Puts what was made on the shelf, and writes what was taken for it. Once, however often it is projected. */
export async function projectPreparation(
  trx: Knex,
  work: BenchWork,
  state: PreparationState,
  { by, now }: Finishing,
): Promise<void> {
  if (state.status !== "finished" || !state.label) return;
  if (await trx("lots").where({ made_in: work.id }).first("id")) return;
  const { zone } = (await rulesOfVersion(trx, work.rules_version)).rules;
  const at = state.finished_at ?? state.started_at;
  const code = await freeCode(trx, state.label.code);
  const made = await addLotIn(trx, lotOf(state, localDate(at, zone), code), by, now, work.id);
  await writeUses(
    trx,
    work.id,
    state.parents.flatMap(({ lot_id, ingredient }) => {
      const taken = state.taken[ingredient];
      return lot_id && taken
        ? [
            {
              lot_id,
              role: "parent" as const,
              slot: ingredient,
              amount: taken.amount,
              at: taken.at,
              into_lot_id: made.id,
            },
          ]
        : [];
    }),
  );
}

/** The code as it was written, or with a number where another bottle got it first. */
async function freeCode(trx: Knex, code: string): Promise<string> {
  for (let i = 1; ; i++) {
    const tried = i === 1 ? code : `${code.slice(0, 21)}-${i}`;
    if (!(await trx("lots").where({ code: tried }).first("id"))) return tried;
  }
}

import type { Knex } from "knex";
import type { Method } from "../../../core/methods/method";
import { formatWithUncertainty } from "../../../core/quantity/format";
import { isStandard } from "../../../core/stock/lot";
import { supplyKinds } from "../../../core/stock/supply";
import { onShelf } from "./lots.server";
import { fits } from "./lotsInHand.server";

/** A bottle on the shelf that may be what a method asks for. */
export interface Bottle {
  code: string;
  name: string;
  good: boolean;
  /** The strength it brings, as it is written; null where it brings none. */
  strength: string | null;
  /** Whether it leads the method as its kit. */
  kit: boolean;
  /** How it stands with it: until when, how many uses are left, what it brings along. */
  says: string;
}

/** The bottles on the shelf for every material of a method, the one to be used up first first. */
export async function bottlesFor(db: Knex, method: Method, today: string): Promise<Record<string, Bottle[]>> {
  const shelf = await onShelf(db, today, supplyKinds);
  return Object.fromEntries(
    method.materials
      .filter((m) => m.lot)
      .map((material) => [
        material.key,
        shelf
          .filter(({ lot }) => fits(lot, method, material) && !lot.discarded)
          .map(({ lot, condition, portions_left }) => ({
            good: condition.state === "good" && portions_left !== 0,
            opened: lot.opened_on !== null,
            until: condition.good_until,
            code: lot.code,
            name: lot.name,
            kit: !isStandard(lot) && lot.kit?.method === method.id,
            strength:
              !isStandard(lot) && lot.strength
                ? `${formatWithUncertainty(lot.strength.value, lot.strength.uncertainty)} ${lot.strength.unit}`
                : null,
            says: [
              condition.sentence,
              ...(portions_left === null ? [] : [`${portions_left} uses left.`]),
              ...(!isStandard(lot) && lot.kit?.method === method.id ? [`By ${lot.kit.source}.`] : []),
            ].join(" "),
          }))
          .sort(
            (a, b) =>
              Number(b.good) - Number(a.good) ||
              Number(b.opened) - Number(a.opened) ||
              a.until.localeCompare(b.until),
          )
          .map(({ opened: _, until: __, ...bottle }) => bottle),
      ]),
  );
}

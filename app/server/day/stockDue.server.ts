import type { Knex } from "knex";
import { counted, formatOwnDigits } from "../../../core/quantity/format";
import type { HouseRules } from "../../../core/rules/houseRules";
import { amountLeft } from "../../../core/stock/lot";
import { type BottleOf, type RunsOut, runningOut } from "../../../core/stock/reorder";
import { standardKinds } from "../../../core/stock/standard";
import { supplyKinds } from "../../../core/stock/supply";
import { showDate } from "../../../core/time/words";
import { addDays, dayEnd } from "../../../core/time/zone";
import { takenOfLate } from "../stock/lotPage.server";
import { type OnShelf, onShelf } from "../stock/lots.server";
import type { DueEntry } from "./dueEntry";

/** So few portions of an opened bottle are worth a word. */
const fewPortions = 3;

/** What the shelf asks for: opened lots that run out within a week or have few portions left, and materials to be ordered. */
export async function stockDue(db: Knex, today: string, rules: HouseRules): Promise<DueEntry[]> {
  const shelf = await onShelf(db, today, [...standardKinds, ...supplyKinds]);
  return [...(await ordersDue(db, shelf, today, rules)), ...lotsDue(shelf, today, rules.zone)].sort((a, b) =>
    a.at.localeCompare(b.at),
  );
}

const entry = (
  of: Pick<DueEntry, "id" | "kind" | "subject" | "title" | "detail" | "at" | "href" | "when">,
): DueEntry => ({
  ...of,
  meter_id: null,
  measurands: [],
  moment: null,
});

function lotsDue(shelf: readonly OnShelf[], today: string, zone: string): DueEntry[] {
  const soon = addDays(today, 7);
  return shelf.flatMap(({ id, lot, condition, portions_left }): DueEntry[] => {
    if (condition.state !== "good" || !lot.opened_on) return [];
    const few = portions_left !== null && portions_left <= fewPortions;
    if (condition.good_until > soon && !few) return [];
    return [
      entry({
        id: `lot-${id}`,
        kind: "lot",
        subject: lot.code,
        title: `${lot.name}, ${lot.code}`,
        detail: few
          ? `${counted(portions_left, "portion")} left`
          : `good until ${showDate(condition.good_until, "weekday")}`,
        at: dayEnd(condition.good_until, zone),
        href: `/stock/${id}`,
        when: condition.good_until === today ? "today" : showDate(condition.good_until, "short"),
      }),
    ];
  });
}

/** Materials that last no longer than a delivery takes: by all bottles of their name, what was made here too. */
async function ordersDue(
  db: Knex,
  shelf: readonly OnShelf[],
  today: string,
  { solutions, zone }: HouseRules,
): Promise<DueEntry[]> {
  const taken = await takenOfLate(
    db,
    shelf.flatMap(({ id, lot }) => (lot.size === null ? [] : [id])),
    today,
  );
  const bottles = shelf.map(
    ({ id, lot, condition, used }): BottleOf & { stored: OnShelf["lot"]; id: string } => ({
      id,
      stored: lot,
      material: lot.name,
      unit: lot.unit,
      left: condition.state === "good" && !lot.discarded ? amountLeft(lot, used) : 0,
      taken: taken.get(id)?.taken ?? 0,
      since: taken.get(id)?.since ?? null,
    }),
  );
  return runningOut(bottles, today, solutions.order_days).flatMap((out) => {
    const newest = bottles.findLast((b) => b.material === out.material && b.unit === out.unit);
    return newest ? [orderEntry(out, newest.id, today, zone)] : [];
  });
}

const orderEntry = (out: RunsOut, lot_id: string, today: string, zone: string): DueEntry =>
  entry({
    id: `order-${lot_id}`,
    kind: "order",
    subject: out.material,
    title: `Order or prepare: ${out.material}`,
    detail: `${formatOwnDigits(Number(out.left.toPrecision(3)))} ${out.unit} left, at this rate until ${showDate(out.lasts_until, "weekday")}`,
    at: dayEnd(out.lasts_until, zone),
    href: `/stock/${lot_id}`,
    when: out.lasts_until <= today ? "now" : showDate(out.lasts_until, "short"),
  });

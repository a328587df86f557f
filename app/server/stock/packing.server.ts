import type { Knex } from "knex";
import type { Method } from "../../../core/methods/method";
import { type PackRow, packList } from "../../../core/samples/packList";
import type { VisitPlan } from "../../../core/samples/visitEvents";
import { amountLeft } from "../../../core/stock/lot";
import { supplyKinds } from "../../../core/stock/supply";
import type { wasteStreams } from "../../../core/stock/wasteStreams";
import { allMethods } from "../runs/methods.server";
import { onShelf } from "./lots.server";
import { fits } from "./lotsInHand.server";

interface Packing {
  rows: PackRow[];
  /** Into which containers what is left of the tests goes. */
  waste: (typeof wasteStreams)[number][];
}

/** What the tests of some visits need from the shelf: opened bottles first, then what is good for the shortest. */
export async function packingFor(db: Knex, plans: readonly VisitPlan[], today: string): Promise<Packing> {
  const stops = new Map<string, number>();
  for (const { methods } of plans) for (const { id } of methods) stops.set(id, (stops.get(id) ?? 0) + 1);
  if (stops.size === 0) return { rows: [], waste: [] };
  const methods: Method[] = (await allMethods(db)).map((m) => m.method).filter((m) => stops.has(m.id));
  const good = (await onShelf(db, today, supplyKinds))
    .filter((s) => s.condition.state === "good" && !s.lot.discarded && s.portions_left !== 0)
    .sort(
      (a, b) =>
        Number(b.lot.opened_on !== null) - Number(a.lot.opened_on !== null) ||
        a.condition.good_until.localeCompare(b.condition.good_until),
    );
  const rows = packList(
    methods.map((method) => ({ method, stops: stops.get(method.id) ?? 0 })),
    (name) =>
      good
        .filter(({ lot }) =>
          methods.some((m) => m.materials.some((x) => x.name === name) && fits(lot, m, { name })),
        )
        .map(({ lot, used, portions_left }) => ({
          code: lot.code,
          name: lot.name,
          place: lot.place,
          left: amountLeft(lot, used),
          unit: lot.unit,
          uses_left: portions_left,
        })),
  );
  return { rows, waste: [...new Set(methods.map((m) => m.waste))].filter((w) => w !== "none") };
}

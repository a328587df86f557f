import { purgeAt, type VisitState } from "./visit";

/** A clock that runs at a visit; times in milliseconds of the epoch. */
export interface VisitClock {
  key: "air" | "back" | "purge";
  /** What to do when it rings. */
  words: string;
  began: number;
  due: number;
}

/**
 * Every clock that runs at a visit: the air thermometer until it is read, the word that somebody alone has promised, the purge
 * until it is done. `now` is in ms. Check value: a thermometer that was hung at noon rings at 12:05.
 */
export function visitClocks(state: VisitState, now: number): VisitClock[] {
  if (state.status !== "open") return [];
  const { air, plan, back_by, arrived_at, site } = state;
  const clocks: VisitClock[] = [];
  if (air.hung_at && air.value_c === null) {
    const began = Date.parse(air.hung_at);
    clocks.push({
      key: "air",
      words: `Read the air thermometer at ${site.name}`,
      began,
      due: began + plan.air_s * 1000,
    });
  }
  if (back_by && arrived_at) {
    const words = `Give word that you are well at ${site.name}`;
    clocks.push({ key: "back", words, began: Date.parse(arrived_at), due: Date.parse(back_by) });
  }
  const first = state.flows[0];
  const purge = purgeAt(state, now);
  if (first && purge && purge.left_min !== null && purge.left_min > 0) {
    const words = `Purge at ${site.name}: then measure a round`;
    clocks.push({ key: "purge", words, began: first.at, due: now + purge.left_min * 60_000 });
  }
  return clocks;
}

import { z } from "zod";
import { showDate } from "../time/words";
import { addDays, daysBetween } from "../time/zone";
import { type StandardLot, standardLotSchema } from "./standard";
import { type SupplyLot, supplyLotSchema } from "./supply";

/** Anything on the shelf that bears a lot: the one definition for forms, actions, files and evidence. */
export const lotSchema = z
  .discriminatedUnion("kind", [standardLotSchema, supplyLotSchema], {
    error: "Choose what kind of thing it is.",
  })
  .superRefine((lot, issue) => {
    if (lot.portion !== null && lot.size !== null && lot.portion > lot.size) {
      issue.addIssue({ code: "custom", path: ["portion"], message: "One use is not more than there is." });
    }
  });
export type Lot = StandardLot | SupplyLot;

export const isStandard = (lot: Lot): lot is StandardLot => "table" in lot;

export interface LotCondition {
  state: "good" | "expired" | "open-too-long" | "withdrawn";
  /** The last day on which it is good, whichever limit comes first (ISO date). */
  good_until: string;
  sentence: string;
}

/**
 * What may be said of a lot on a day (ISO date): its printed expiry and its life after opening both count.
 * Source: common practice. Check value: opened 2026-01-01 with 30 days is good until 2026-01-31.
 */
export function lotCondition(
  lot: Pick<Lot, "opened_on" | "expires_on" | "shelf_life_open_days" | "withdrawn">,
  onDate: string,
): LotCondition {
  const openUntil =
    lot.opened_on && lot.shelf_life_open_days !== null
      ? addDays(lot.opened_on, lot.shelf_life_open_days)
      : null;
  const good_until = openUntil && openUntil < lot.expires_on ? openUntil : lot.expires_on;
  if (lot.withdrawn && lot.withdrawn.on <= onDate) {
    return {
      state: "withdrawn",
      good_until,
      sentence: `Withdrawn on ${showDate(lot.withdrawn.on)}: ${lot.withdrawn.reason}`,
    };
  }
  if (lot.expires_on < onDate) {
    return { state: "expired", good_until, sentence: `Expired on ${showDate(lot.expires_on)}.` };
  }
  if (openUntil && openUntil < onDate) {
    return {
      state: "open-too-long",
      good_until,
      sentence: `Opened ${daysBetween(lot.opened_on ?? onDate, onDate)} days ago; it keeps ${lot.shelf_life_open_days} days once opened.`,
    };
  }
  return { state: "good", good_until, sentence: `Good until ${showDate(good_until)}.` };
}

/** What is left of a lot when so much of it was taken, in its own unit; null when nobody said its size. */
export const amountLeft = ({ size }: Pick<Lot, "size">, used: number): number | null =>
  size === null ? null : Math.max(0, size - used);

/** How many uses a lot still gives after so much of it was taken; null when nobody said its size. */
export const portionsLeft = (lot: Pick<Lot, "size" | "portion">, used: number): number | null =>
  lot.portion === null ? null : wholeUses(amountLeft(lot, used), lot.portion);

const wholeUses = (left: number | null, portion: number): number | null =>
  left === null ? null : Math.floor(left / portion + 1e-9);

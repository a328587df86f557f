import { formatOwnDigits } from "../quantity/format";
import { showDate } from "../time/words";
import { isStandard, type Lot } from "./lot";

/** What of a lot others are reckoned with, and by what they name it: its code, its value, its strength, what its leaflet says. */
function reckoned(lot: Lot): Record<string, unknown> {
  const { code, kind, unit } = lot;
  if (isStandard(lot)) {
    const { material, reference, uncertainty, table } = lot;
    return { code, kind, unit, material, reference, uncertainty, "certified value": table };
  }
  const { serves, strength, formula, purity_percent, kit } = lot;
  return {
    code,
    kind,
    unit,
    "what it is used as": serves,
    strength,
    formula,
    purity: purity_percent,
    "what its leaflet says": kit,
  };
}

/** Numbers that were reckoned over and back differ in their last digits; nobody means that by a correction. */
function same(a: unknown, b: unknown): boolean {
  if (typeof a === "number" && typeof b === "number")
    return a === b || Math.abs(a - b) <= 1e-6 * Math.max(Math.abs(a), Math.abs(b));
  if (typeof a !== "object" || typeof b !== "object" || !a || !b) return a === b;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  return [...new Set([...Object.keys(x), ...Object.keys(y)])].every((key) => same(x[key], y[key]));
}

/**
 * What differs between a lot as it was written and as it is corrected, of that which others are reckoned with: names of facts, none where
 * only what stands beside it differs.
 * Source: common practice (what was reckoned with a value keeps it). Check value: another certified value is "certified value", another day of expiry is none.
 */
export function reckonedOtherwise(before: Lot, after: Lot): string[] {
  const [a, b] = [reckoned(before), reckoned(after)];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((fact) => !same(a[fact], b[fact]));
}

/**
 * Whether something is corrected by which a bottle is judged when it is used: its days, how long it keeps once opened.
 * Source: common practice. Check value: another day of expiry is, another amount is not.
 */
export const judgedOtherwise = (before: Lot, after: Lot): boolean =>
  (["opened_on", "expires_on", "shelf_life_open_days"] as const).some((fact) => before[fact] !== after[fact]);

const day = (date: string | null) => (date === null ? "not opened" : showDate(date));
const count = (unit: string) => (n: number | null) =>
  n === null ? "nothing said" : `${formatOwnDigits(n)} ${unit}`;

/** What differs between a lot as it was written and as it is corrected, in words. Check value: "expires: 1 Mar 2027, not 1 Mar 2026". */
export function correctionsOf(before: Lot, after: Lot): string[] {
  const said = <T>(what: string, words: (value: T) => string, was: T, is: T): string[] =>
    was === is ? [] : [`${what}: ${words(is)}, not ${words(was)}`];
  return [
    ...said("name", (name: string) => `“${name}”`, before.name, after.name),
    ...said("received", showDate, before.received_on, after.received_on),
    ...said("expires", showDate, before.expires_on, after.expires_on),
    ...said("opened", day, before.opened_on, after.opened_on),
    ...said("keeps, once opened", count("d"), before.shelf_life_open_days, after.shelf_life_open_days),
    ...said("in it", count(before.unit), before.size, after.size),
    ...said("one use takes", count(before.unit), before.portion, after.portion),
    ...reckonedOtherwise(before, after).map((fact) =>
      fact === "code" ? `code: ${after.code}, not ${before.code}` : `${fact} corrected`,
    ),
  ];
}

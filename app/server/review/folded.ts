import { showResult } from "../../../core/quantity/showResult";
import type { LookGroup, ReviewRow } from "./review.server";
import type { Seen } from "./sign.server";

/** A reading as it was seen, as a form sends it: its id and judgement; of several, one after the other. */
export const seenAs = (rows: readonly Pick<ReviewRow, "id" | "judgements">[]): string =>
  rows.map((r) => `${r.id} ${r.judgements}`).join(",");

/** Readings as they were seen, from what a form sent of the boxes that were ticked; what is none is left out. */
export const seenFrom = (sent: readonly FormDataEntryValue[]): Seen[] =>
  sent
    .flatMap((value) => String(value).split(","))
    .flatMap((one) => {
      const [, id, judgement] = /^(.{1,80}) (\d{1,9})$/.exec(one) ?? [];
      return id && judgement ? [{ id, judgement: Number(judgement) }] : [];
    });

/** What of a long group does not stand line by line. */
interface Folded {
  seen: string;
  count: number;
  from: string;
  to: string;
  /** The least and the most of them, where all are of one quantity. */
  range: string | null;
}

/** A group as a page shows it: how many there are in all, and those that stand line by line. */
export interface ShownGroup extends LookGroup {
  count: number;
  folded: Folded | null;
}

/** A group is long from so many on, and then shows so many of its lines. */
const [long, shown] = [40, 20];

/**
 * A group as a page shows it. A logger's file gives more results for the same reason than anybody looks at one by one: the first stand line
 * by line, the others are told by their number, their time and their extremes.
 */
export function fold(group: LookGroup): ShownGroup {
  const count = group.rows.length;
  if (count <= long) return { ...group, count, folded: null };
  const rows = group.rows.slice(0, shown);
  const others = group.rows.slice(shown);
  return {
    ...group,
    count,
    rows,
    folded: {
      seen: seenAs(others),
      count: others.length,
      from: others[0]?.measured_at ?? "",
      to: others.at(-1)?.measured_at ?? "",
      range: rangeOf(group.rows),
    },
  };
}

function rangeOf(rows: readonly ReviewRow[]): string | null {
  const [first] = rows;
  const ofOne = rows.every((r) => r.analyte === first?.analyte && r.unit === first.unit);
  const sorted = rows.filter((r) => r.value !== null).toSorted((a, b) => Number(a.value) - Number(b.value));
  const [least, most] = [sorted[0], sorted.at(-1)];
  return ofOne && least && most ? `${showResult(least)} to ${showResult(most)} ${least.unit}` : null;
}

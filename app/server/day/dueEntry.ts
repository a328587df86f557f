import type { DueItem } from "../../../core/day/due";

/** Something that is due, and where it is done. */
export interface DueEntry extends Omit<DueItem, "kind"> {
  kind: DueItem["kind"] | "rejudge" | "resample" | "sample" | "cause" | "quality" | "review";
  href: string;
  /** One-letter-free words of when: "now", "today", or a date. */
  when: string;
}

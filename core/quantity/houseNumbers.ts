import { z } from "zod";

/** How the house writes decimals on paper. */
export const decimalMarkSchema = z.enum(["point", "comma"]);
export type DecimalMark = z.infer<typeof decimalMarkSchema>;

/** A decimal number that stands by itself: no part of a word, of a version, or of a longer chain of points. */
const decimal = /(?<![\w.,/-])(\d[\d\u2009\u202f]*)\.(\d+)(?![\w/]|[.,]\d)/g;

/**
 * A text with its numbers as the house writes them; names of files, versions and everything kept stay as they are.
 * Check value: "7.42 ± 0.05" with a comma is "7,42 ± 0,05".
 */
export const inHouseNumbers = (text: string, mark: DecimalMark): string =>
  mark === "point" ? text : text.replace(decimal, "$1,$2");

/** Everything that a paper says, with the numbers of the house. What is no text stays as it is. */
export function withHouseNumbers<T>(paper: T, mark: DecimalMark): T {
  if (mark === "point") return paper;
  const of = (value: unknown): unknown => {
    if (typeof value === "string") return inHouseNumbers(value, mark);
    if (Array.isArray(value)) return value.map(of);
    if (value !== null && typeof value === "object")
      return Object.fromEntries(Object.entries(value).map(([key, v]) => [key, of(v)]));
    return value;
  };
  return of(paper) as T;
}

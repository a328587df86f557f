import { expandedWords } from "../../../core/quality/uncertainty";
import { showResult } from "../../../core/quantity/showResult";
import type { ReadingRow } from "./readings.server";

/** A result as a paper has it: with how sure it is where that is known, and its unit. */
export const resultWords = (
  r: Parameters<typeof showResult>[0] & Pick<ReadingRow, "value" | "decimals" | "uncertainty" | "unit">,
): string =>
  [
    showResult(r),
    r.value !== null && r.uncertainty !== null ? expandedWords(r.uncertainty, r.decimals) : "",
    r.unit === "pH" ? "" : r.unit,
  ]
    .filter(Boolean)
    .join(" ");

import { formatNumber } from "../../core/quantity/format";

/** A result as it is written, without its unit; a dash where nothing is reported. */
export const showResult = (row: { shown: string | null; value: number | null; decimals: number }): string =>
  row.shown ?? (row.value === null ? "–" : formatNumber(row.value, row.decimals));

import { formatNumber } from "./format";

/** A result as it is written, without its unit; a dash where nothing is reported. Check value: 0.8 at two decimals is "0.80". */
export const showResult = (row: { shown: string | null; value: number | null; decimals: number }): string =>
  row.shown ?? (row.value === null ? "–" : formatNumber(row.value, row.decimals));

import type { Found } from "../../quantity/found";

/** A row of the table on a tube: what the tip of the light column shows, and the concentration it stands for. */
export interface TableRow {
  division: number;
  value: number;
}

/** The two rows between which a reading lies; beyond an end the two there. Null for a table of fewer than two divisions. */
function rowsBeside(table: readonly TableRow[], division: number): [TableRow, TableRow] | null {
  const rows = [...table]
    .sort((a, b) => a.division - b.division)
    .filter((row, i, all) => row.division !== all[i - 1]?.division);
  const after = rows.findIndex((row) => row.division >= division);
  const at = after < 0 ? rows.length - 1 : Math.max(1, after);
  const [a, b] = [rows[at - 1], rows[at]];
  return a && b ? [a, b] : null;
}

/**
 * A table read between its rows, in a straight line; outside of it the result is only below or above. Units: those of the table.
 * Source: common practice for capillary strips. Check value: 1.0 is 28 and 2.0 is 55, so 1.4 is 38.8.
 */
export function tableFound(table: readonly TableRow[], division: number): Found {
  const beside = rowsBeside(table, division);
  if (!beside) return { kind: "below", limit: table[0]?.value ?? 0 };
  const [a, b] = beside;
  if (division < a.division) return { kind: "below", limit: a.value };
  if (division > b.division) return { kind: "above", limit: b.value };
  const share = (division - a.division) / (b.division - a.division);
  return { kind: "value", value: a.value + share * (b.value - a.value) };
}

/**
 * How much the result changes with one division, where it was read; 0 for a table of fewer than two divisions.
 * Units: those of the table, for one division. Check value: between 28 at 1.0 and 55 at 2.0 it is 27.
 */
export function steepnessAt(table: readonly TableRow[], division: number): number {
  const beside = rowsBeside(table, division);
  if (!beside) return 0;
  const [a, b] = beside;
  return Math.abs((b.value - a.value) / (b.division - a.division));
}

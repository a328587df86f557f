import type { TakenOut } from "../../../core/bench/takenOut";

/** Who took something out, as a column keeps it; null where nobody did. */
export const takenOutOf = (column: string | null): TakenOut | null =>
  column === null ? null : (JSON.parse(column) as TakenOut);

/** Who took something out of the record, or out of use, when (ISO, UTC), and why. */
export interface TakenOut {
  at: string;
  by: string;
  reason: string;
}

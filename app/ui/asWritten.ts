/** A number as it stands in a field, to be read again as what it is: all its digits, ungrouped. Check value: 12500.5 is "12500.5", null is "". */
export const asWritten = (value: number | null | undefined): string => (value == null ? "" : String(value));

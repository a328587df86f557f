/**
 * Which columns of a table hold what, by what its head suggests. Each column is given to one field, in the order of the guesses; a column
 * that may not be taken is passed over. Check value: of “Lot, Expires” by /lot/ and /expir/ both are known.
 */
export function columnsByHead<F extends string>(
  head: readonly string[],
  guesses: readonly (readonly [F, RegExp])[],
  may: (column: string) => boolean = () => true,
): Partial<Record<F, string>> {
  const columns: Partial<Record<F, string>> = {};
  const taken = new Set<string>();
  for (const [field, pattern] of guesses) {
    const column = head.find((h) => !taken.has(h) && pattern.test(h) && may(h));
    if (column === undefined) continue;
    taken.add(column);
    columns[field] = column;
  }
  return columns;
}

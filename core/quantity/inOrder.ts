/**
 * Puts moments, ids, codes and names in the order of their characters: the same one in the server and in every browser, where a first comparison by
 * the rules of a language would take 30 ms. Check value: "A" comes before "B", and both before "a".
 */
export const inOrder = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

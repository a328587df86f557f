/** No longer than this is what a number is kept together with: a narrow column has room for both. */
const longest = 8;

/** A number that stands by itself, not the end of a code like P-2, before a word. */
const numberBefore = new RegExp(`(^|[\\s(])([−+]?\\d[\\d.,]*) (?=\\S{1,${longest}}(?:\\s|$))`, "g");

/**
 * A text in which no line ends between a number and its unit, or what it counts: the space between them becomes one that does not break.
 * A longer word than eight characters may stand on the next line. Check value: "Conductivity 718 µS/cm" has one such space, before "µS/cm".
 */
export const unbroken = (text: string): string => text.replace(numberBefore, "$1$2\u00a0");

/** What comes first, second and so on, up to the most replicates, portions and steps that are counted in words. */
export const ordinals = [
  "first",
  "second",
  "third",
  "fourth",
  "fifth",
  "sixth",
  "seventh",
  "eighth",
] as const;

/** The same as a sentence begins with it; a number beyond the eighth. `index` counts from 0. Check value: 1 is "Second". */
export const ordinalFirst = (index: number): string => {
  const word = ordinals[index];
  return word ? word.charAt(0).toUpperCase() + word.slice(1) : `${index + 1}.`;
};

import { type Look, type LookKey, lookKeys } from "./visitEvents";

/** What was said most often, if it was said more than once; the first of two that were said as often. */
function mostOften(said: readonly string[]): string | null {
  const counts = new Map<string, number>();
  for (const word of said) counts.set(word, (counts.get(word) ?? 0) + 1);
  const [first] = [...counts].sort((a, b) => b[1] - a[1]);
  return first && first[1] > 1 ? first[0] : null;
}

/** Something that is not as it usually is at a site. */
export interface Unusual {
  key: LookKey;
  now: string;
  usual: string;
}

/**
 * What of a look is not as it usually is there, by the looks before, newest first. Check value: brown water where it was clear twice
 * is one.
 */
export const unusualLook = (look: Look, before: readonly Look[]): Unusual[] =>
  lookKeys.flatMap((key) => {
    const usual = mostOften(before.flatMap((b) => b[key] ?? []));
    const now = look[key];
    return usual && now && usual !== now ? [{ key, now, usual }] : [];
  });

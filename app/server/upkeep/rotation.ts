/** How long backups are kept: the newest three in any case, the newest of each of the last 14 days, and of each of the last 12 months. */
const newestKept = 3;
const daysKept = 14;
const monthsKept = 12;

/**
 * Which backups may go, by when they were made (ISO, UTC). Check value: of two a day for a month, 15 stay: two of the last day, and one of each
 * of the 13 days before.
 */
export function superfluous(made: readonly string[]): string[] {
  const newestFirst = [...made].sort().reverse();
  const kept = new Set(newestFirst.slice(0, newestKept));
  const keepNewestOf = (part: (at: string) => string, most: number) => {
    const seen = new Set<string>();
    for (const at of newestFirst) {
      if (seen.has(part(at)) || seen.size === most) continue;
      seen.add(part(at));
      kept.add(at);
    }
  };
  keepNewestOf((at) => at.slice(0, 10), daysKept);
  keepNewestOf((at) => at.slice(0, 7), monthsKept);
  return newestFirst.filter((at) => !kept.has(at));
}

import type { DueEntry } from "../../server/due.server";

/** Entries of one kind that stand together on the rail, so that what is due stays in sight. */
export interface DueGroup {
  id: string;
  title: string;
  when: string;
  entries: DueEntry[];
}

/** So many entries of one kind are worth a group. */
const worthGroup = 3;

const nouns: Partial<Record<DueEntry["kind"], (n: number) => string>> = {
  calibrate: (n) => `Calibrate ${n} meters`,
  check: (n) => `Check ${n} meters`,
  lot: (n) => `${n} bottles run out soon`,
};

/** What is due, in its order; several of one kind become one group at the place of the first. */
export function groupDue(due: readonly DueEntry[]): (DueEntry | DueGroup)[] {
  const result: (DueEntry | DueGroup)[] = [];
  const grouped = new Set<string>();
  for (const entry of due) {
    const title = nouns[entry.kind];
    const same = due.filter((d) => d.kind === entry.kind);
    if (!title || same.length < worthGroup) result.push(entry);
    else if (!grouped.has(entry.kind)) {
      grouped.add(entry.kind);
      result.push({
        id: `group-${entry.kind}`,
        title: title(same.length),
        when: same[0]?.when ?? "",
        entries: same,
      });
    }
  }
  return result;
}

import type { DueEntry } from "../../server/day/dueEntry";

/** Entries of one kind that stand together on the rail, so that what is due stays in sight. */
export interface DueGroup {
  id: string;
  title: string;
  /** What they speak of, as people call it. */
  detail: string;
  when: string;
  entries: DueEntry[];
}

/** So many entries of one kind are worth a group. */
const worthGroup = 3;

/** What is asked of something, whatever it is asked of: "Calibrate ", "Closing check of ". */
function asked({ kind, title, subject }: DueEntry): string | null {
  if (kind === "lot" || kind === "order") return kind;
  const ofMeter = (kind === "calibrate" || kind === "check") && subject !== null && title.endsWith(subject);
  return ofMeter ? title.slice(0, -subject.length) : null;
}

const groups: Record<string, (n: number) => string> = {
  lot: (n) => `${n} lots run out soon`,
  order: (n) => `Order or prepare ${n} things`,
};

/** What is due, in its order; where the same is asked of several, they are one group at the place of the first. */
export function groupDue(due: readonly DueEntry[]): (DueEntry | DueGroup)[] {
  return due.flatMap((entry): (DueEntry | DueGroup)[] => {
    const what = asked(entry);
    const entries = what === null ? [] : due.filter((d) => d.kind === entry.kind && asked(d) === what);
    if (what === null || entries.length < worthGroup) return [entry];
    if (entries[0] !== entry) return [];
    const n = entries.length;
    return [
      {
        id: `group-${entry.id}`,
        title: groups[what]?.(n) ?? `${what}${n} meters`,
        detail: [...new Set(entries.map((e) => e.subject))].join(", "),
        when: entry.when,
        entries,
      },
    ];
  });
}

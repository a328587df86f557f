import type { DueEntry } from "./dueEntry";

/** Entries of one kind that stand together on the rail, so that what is due stays in sight. */
export interface DueGroup {
  id: string;
  title: string;
  /** What they speak of, as people call it. */
  detail: string;
  when: string;
  /** The first of them. */
  entries: DueEntry[];
  /** How many more there are; all of them are at this place of the page of what is due. */
  others: number;
  anchor: string;
}

/** So many entries of one kind are worth a group. */
const worthGroup = 3;
/** So many of a group are unfolded on the rail, which comes with every page: after years there are hundreds. */
export const unfolded = 12;
/** So many are called by their names before they are counted. */
const named = 8;

/** What is asked of something, whatever it is asked of: "Calibrate ", "Closing check of ". */
function asked({ kind, title, subject }: DueEntry): string | null {
  if (kind === "lot" || kind === "order" || kind === "cause") return kind;
  const ofMeter = (kind === "calibrate" || kind === "check") && subject !== null && title.endsWith(subject);
  return ofMeter ? title.slice(0, -subject.length) : null;
}

const groups: Record<string, (n: number) => string> = {
  lot: (n) => `${n} lots run out soon`,
  order: (n) => `Order or prepare ${n} things`,
  cause: (n) => `Find the cause of ${n} checks that are out`,
};

/** Checks that are out stand for years if nobody sees to them: so many of them are shown at once, and all of them at this place. */
export const causesListed = 20;
const allCauses = "/quality?out=all";

/** As a place on a page is called. */
const slugOf = (words: string) =>
  words
    .trim()
    .toLowerCase()
    .replaceAll(/[^a-z]+/g, "-");

const groupOf = (first: DueEntry, what: string, all: readonly DueEntry[], most: number): DueGroup => {
  const subjects = [...new Set(all.map((entry) => entry.subject))];
  const uncounted = subjects.slice(0, named).join(", ");
  const more = subjects.length - named;
  return {
    id: `group-${first.id}`,
    title: groups[what]?.(all.length) ?? `${what}${all.length} meters`,
    detail: more > 0 ? `${uncounted} and ${more} more` : uncounted,
    when: first.when,
    entries: all.slice(0, most),
    others: Math.max(0, all.length - most),
    anchor: groups[what] ? what : slugOf(`${first.kind} ${what}`),
  };
};

/**
 * What is due, in its order; where the same is asked of several, they are one group at the place of the first, which unfolds
 * at `most` so many.
 */
export function groupDue(due: readonly DueEntry[], most = unfolded): (DueEntry | DueGroup)[] {
  const alike = new Map<string, DueEntry[]>();
  for (const entry of due) {
    const what = asked(entry);
    if (what === null) continue;
    const key = `${entry.kind} ${what}`;
    const found = alike.get(key);
    if (found) found.push(entry);
    else alike.set(key, [entry]);
  }
  return due.flatMap((entry): (DueEntry | DueGroup)[] => {
    const what = asked(entry);
    const all = what === null ? [] : (alike.get(`${entry.kind} ${what}`) ?? []);
    if (what === null || all.length < worthGroup) return [entry];
    return all[0] === entry ? [groupOf(entry, what, all, most)] : [];
  });
}

/** What is due with the causes that nobody has looked for as one entry. */
export function withCausesAsOne(due: readonly DueEntry[]): DueEntry[] {
  const causes = due.filter((entry) => entry.kind === "cause");
  const [first] = causes;
  if (!first || causes.length < worthGroup) return [...due];
  const { title, detail } = groupOf(first, "cause", causes, 0);
  const one: DueEntry = { ...first, id: "causes", title, detail, href: allCauses };
  return [...due.filter((entry) => entry.kind !== "cause"), one];
}

/** A list of what is due; what is asked of several has a title. Of very many causes the others are counted, and stand at a place of their own. */
export interface DuePart {
  anchor: string | null;
  title: string | null;
  entries: DueEntry[];
  others: { count: number; href: string } | null;
}

/** Everything that is due in its order: what stands alone in lists, what is asked of several under a title. */
export function dueParts(due: readonly DueEntry[]): DuePart[] {
  const parts: DuePart[] = [];
  for (const item of groupDue(due, Number.POSITIVE_INFINITY)) {
    const last = parts.at(-1);
    if ("entries" in item) parts.push(partOf(item));
    else if (last && last.title === null) last.entries.push(item);
    else parts.push({ anchor: null, title: null, entries: [item], others: null });
  }
  return parts;
}

function partOf({ anchor, title, entries }: DueGroup): DuePart {
  const count = anchor === "cause" ? entries.length - causesListed : 0;
  if (count <= 0) return { anchor, title, entries, others: null };
  return { anchor, title, entries: entries.slice(0, causesListed), others: { count, href: allCauses } };
}

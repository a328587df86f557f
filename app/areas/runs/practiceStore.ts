import { z } from "zod";
import { type RunEvent, runEventSchema } from "../../../core/runs/runEvents";
import type { Moved } from "./practice";

/** A practised run as this browser keeps it: it never goes to the server, and never into the records. */
const practiceSchema = z.object({
  method: z.string(),
  version: z.number().int(),
  /** When something was done last, ISO. */
  at: z.iso.datetime(),
  /** The time that was let pass at once, in all. */
  later_ms: z.number().min(0),
  moved: z.record(z.string(), z.object({ level: z.number(), out: z.number() })),
  events: z.array(runEventSchema),
  /** What came of it, in a sentence; null before its end. */
  outcome: z.string().nullable(),
});
export type Practice = Omit<z.infer<typeof practiceSchema>, "events" | "moved"> & {
  events: RunEvent[];
  moved: Record<string, Moved>;
};

const prefix = "brintel.practice";
const placeOf = (person: string, id: string) => `${prefix} ${person} ${id}`;
/** So many of a person stay in a browser; the oldest go first. */
const most = 30;

const listeners = new Set<() => void>();

/** Hears of every change, in this tab and in others. */
export function onPractice(listener: () => void): () => void {
  listeners.add(listener);
  window.addEventListener("storage", listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("storage", listener);
  };
}

/** What was read last, by place: a store that is read again gives the same object while nothing changed. */
const readLast = new Map<string, { text: string | null; practice: Practice | null }>();

function readAt(place: string): Practice | null {
  let text: string | null = null;
  try {
    text = localStorage.getItem(place);
  } catch {
    // A browser that lets nothing be stored keeps it for as long as the page is open.
    return readLast.get(place)?.practice ?? null;
  }
  const last = readLast.get(place);
  if (last?.text === text) return last.practice;
  const practice = parsed(text);
  readLast.set(place, { text, practice });
  return practice;
}

function parsed(text: string | null): Practice | null {
  try {
    const read = practiceSchema.safeParse(JSON.parse(text ?? "null"));
    return read.success ? (read.data as Practice) : null;
  } catch {
    return null;
  }
}

/** A person's practised run; null for one in which nothing was done yet, or that cannot be read. */
export const practiceOf = (person: string, id: string): Practice | null => readAt(placeOf(person, id));

/** Changes a practised run: what another tab kept meanwhile is what is changed. */
export function keepPractice(
  person: string,
  id: string,
  change: (before: Practice | null) => Practice,
): void {
  const place = placeOf(person, id);
  const practice = change(readAt(place));
  const text = JSON.stringify(practice);
  let kept: string | null = text;
  try {
    localStorage.setItem(place, text);
    forgetOldest(person);
  } catch {
    // Full or forbidden: it stays for as long as the page is open.
    kept = null;
  }
  readLast.set(place, { text: kept, practice });
  for (const listener of listeners) listener();
}

const placesOf = (person: string): string[] =>
  Object.keys(localStorage)
    .filter((key) => key.startsWith(`${prefix} ${person} `))
    // The ids of practised runs rise with time.
    .sort();

function forgetOldest(person: string): void {
  for (const place of placesOf(person).slice(0, -most)) localStorage.removeItem(place);
}

/** What a person practised in this browser, the newest first. */
export function practisedBy(person: string): (Practice & { id: string })[] {
  try {
    return placesOf(person)
      .reverse()
      .flatMap((place) => {
        const practice = readAt(place);
        return practice ? [{ ...practice, id: place.slice(placeOf(person, "").length) }] : [];
      });
  } catch {
    return [];
  }
}

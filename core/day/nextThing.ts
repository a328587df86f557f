/** The one thing to do now, with where it is done. */
export interface NextThing {
  title: string;
  words: string;
  href: string;
  action: string;
}

export interface DayFacts {
  /** The newest work that was begun and not finished. */
  open: { title: string; started_at: string; href: string } | null;
  /** What is due, most urgent first. */
  due: readonly {
    kind: string;
    moment: string | null;
    meter_id: string | null;
    title: string;
    detail: string;
    href: string;
    when: string;
  }[];
  /** Meters that read samples, the one a day's readings rest on first. */
  meters: readonly { id: string; code: string }[];
  sites: readonly { id: string; name: string; today: boolean }[];
}

/**
 * What a technician does next: go on with what is open, look at readings in doubt, set up what is missing, calibrate or
 * check the day's meter, read the next site, close the day. Source: common practice.
 * Check value: with nothing registered the first meter is asked for.
 */
export function nextThing({ open, due, meters, sites }: DayFacts): NextThing {
  if (open) {
    return {
      title: `${open.title} is open`,
      words: "It goes on where you left it.",
      href: open.href,
      action: "Go on",
    };
  }
  const doubt = due.find((d) => d.kind === "rejudge");
  if (doubt)
    return { title: doubt.title, words: capital(doubt.detail), href: doubt.href, action: "Look at them" };
  const water = due.find((d) => d.kind === "resample");
  if (water)
    return { title: water.title, words: capital(water.detail), href: water.href, action: "Look at it" };
  const meter = meters[0];
  if (!meter) {
    return {
      title: "No meter yet",
      words: "Register the first one; it takes a minute.",
      href: "/meters/new",
      action: "Register a meter",
    };
  }
  if (sites.length === 0) {
    return {
      title: "Where do you take your water?",
      words: "A reading belongs to a place, and what you expect there decides which standards to use.",
      href: "/sites",
      action: "Add a site",
    };
  }
  const now = due.find((d) => d.meter_id === meter.id && d.when === "now" && d.moment !== "closing");
  if (now)
    return {
      title: dueTitle(now, meter.code),
      words: capital(now.detail),
      href: now.href,
      action: now.title,
    };
  const next = sites.find((s) => !s.today);
  if (next) {
    return {
      title: next.name,
      words: `${meter.code} is ready.`,
      href: `/meters/${meter.id}/read?site=${next.id}`,
      action: "Take the reading",
    };
  }
  const closing = due.find((d) => d.meter_id === meter.id && d.kind === "check");
  return closing
    ? {
        title: "Every site is read today",
        words: `${closing.title} ends the day.`,
        href: closing.href,
        action: closing.title,
      }
    : {
        title: "Every site is read today",
        words: "Look over the day in the ledger.",
        href: "/ledger",
        action: "Open the ledger",
      };
}

/** A sentence out of a detail; pH keeps its small p. */
const capital = (text: string) =>
  text.startsWith("pH") ? `${text}.` : `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;

const dueTitle = (item: DayFacts["due"][number], code: string) =>
  item.kind === "calibrate" && item.title.startsWith("Calibrate")
    ? `${code} is not calibrated today`
    : item.title;

import type { Finding } from "../../judgement/finding";
import { showTime } from "../../time/words";

/** A moment that a device claimed and that could not be. */
export interface DoubtedMoment {
  claimed_at: string;
  kept_as: string;
}

/** Says of every moment in doubt what was claimed and what was kept; nothing when all could be believed. */
export function judgeMoments(doubts: readonly DoubtedMoment[] | undefined, zone: string): Finding[] {
  const first = doubts?.[0];
  if (!first) return [];
  const more = doubts.length > 1 ? ` and ${doubts.length - 1} more` : "";
  return [
    {
      rule: "moment-in-doubt",
      severity: "qualify",
      measured: `claimed ${showTime(first.claimed_at, zone, "full")}${more}`,
      limit: "not before the work began, not after it was received",
      sentence: `The clock of the device was wrong: what it said was ${showTime(first.claimed_at, zone, "full")} is kept as ${showTime(first.kept_as, zone, "full")}.`,
      action: "Set the clock of the device. Note by hand when it really was if the result matters.",
    },
  ];
}

import { useEffect, useState } from "react";
import type { ShownRail } from "../../server/review/railOf.server";

/** How often the day's line is asked for while something runs, in milliseconds. */
const every_ms = 10_000;

/**
 * The day's line as it is now: what came with the page, and, while runs are open or when the page comes into view again,
 * what other tabs and devices have done since. A server that cannot be reached leaves the line as it was.
 */
export function useFreshRail(loaded: ShownRail): ShownRail {
  const [asked, setAsked] = useState<ShownRail | null>(null);
  const rail = asked && asked.now > loaded.now ? asked : loaded;
  const running = rail.runs.length > 0;
  useEffect(() => {
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      const answer = await fetch("/rail").catch(() => null);
      if (answer?.ok && !answer.redirected) setAsked(await answer.json());
    };
    document.addEventListener("visibilitychange", ask);
    const timer = running ? setInterval(ask, every_ms) : undefined;
    return () => {
      document.removeEventListener("visibilitychange", ask);
      clearInterval(timer);
    };
  }, [running]);
  return rail;
}

import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import type { DayRail } from "../../server/day.server";

/** How often the day's line is asked for while something runs, in milliseconds. */
const every_ms = 10_000;

/**
 * The day's line as it is now: what came with the page, and, while runs are open or when the page comes into view again,
 * what other tabs and devices have done since.
 */
export function useFreshRail(loaded: DayRail): DayRail {
  const { load, data, state } = useFetcher<DayRail>();
  const idle = useRef(true);
  idle.current = state === "idle";
  const rail = data && data.now > loaded.now ? data : loaded;
  const running = rail.runs.length > 0;
  useEffect(() => {
    const ask = () => {
      if (document.visibilityState === "visible" && idle.current) void load("/rail");
    };
    document.addEventListener("visibilitychange", ask);
    const timer = running ? setInterval(ask, every_ms) : undefined;
    return () => {
      document.removeEventListener("visibilitychange", ask);
      clearInterval(timer);
    };
  }, [load, running]);
  return rail;
}

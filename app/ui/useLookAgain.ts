import { useCallback, useEffect, useRef } from "react";
import { useRevalidator } from "react-router";
import { lookingAgain } from "./lookingAgain";

/** How often a page that others can change is looked at anew, in milliseconds. */
const every_ms = 5000;

/**
 * Loads the page's data anew when other tabs or devices have changed it: every few seconds while it is in view, and
 * when it comes into view, or when the returned function asks for it; `sure` then, that it is loaded in any case. `changed` asks the
 * server first, so that a server that is down never takes the page away.
 */
export function useLookAgain(
  changed: () => Promise<boolean>,
  active: boolean,
): (sure?: boolean) => Promise<void> {
  const { revalidate } = useRevalidator();
  const current = useRef({ changed, revalidate });
  current.current = { changed, revalidate };
  const looking = useRef<(sure?: boolean) => Promise<void>>(undefined);
  looking.current ??= lookingAgain(
    () => current.current.changed(),
    () => current.current.revalidate(),
  );
  const look = useCallback(async (sure = false) => {
    if (sure || document.visibilityState === "visible") await looking.current?.(sure);
  }, []);
  useEffect(() => {
    if (!active) return;
    const now = () => void look();
    document.addEventListener("visibilitychange", now);
    const timer = setInterval(now, every_ms);
    return () => {
      document.removeEventListener("visibilitychange", now);
      clearInterval(timer);
    };
  }, [active, look]);
  return look;
}

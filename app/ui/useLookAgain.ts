import { useCallback, useEffect, useRef } from "react";
import { useRevalidator } from "react-router";

/** How often a page that others can change is looked at anew, in milliseconds. */
const every_ms = 5000;

/**
 * Loads the page's data anew when other tabs or devices have changed it: every few seconds while it is in view, and
 * when it comes into view, or when the returned function asks for it. `changed` asks the server first, so that a server
 * that is down never takes the page away.
 */
export function useLookAgain(changed: () => Promise<boolean>, active: boolean): () => Promise<void> {
  const { revalidate } = useRevalidator();
  const ask = useRef(changed);
  ask.current = changed;
  const asking = useRef(false);
  /** Something came while it was being looked: what is loaded then may be from before. */
  const again = useRef(false);
  const look = useCallback(async () => {
    if (document.visibilityState !== "visible") return;
    again.current = asking.current;
    if (asking.current) return;
    asking.current = true;
    try {
      do {
        again.current = false;
        if (await ask.current()) await revalidate();
      } while (again.current);
    } catch {
      // Not reached: what is shown stays, and the next look may do better.
    } finally {
      asking.current = false;
    }
  }, [revalidate]);
  useEffect(() => {
    if (!active) return;
    document.addEventListener("visibilitychange", look);
    const timer = setInterval(look, every_ms);
    return () => {
      document.removeEventListener("visibilitychange", look);
      clearInterval(timer);
    };
  }, [active, look]);
  return look;
}

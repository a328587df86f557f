import { useEffect, useRef } from "react";
import { useRevalidator } from "react-router";

/** How often a page that others can change is looked at anew, in milliseconds. */
const every_ms = 5000;

/**
 * Loads the page's data anew when other tabs or devices have changed it: every few seconds while it is in view, and
 * when it comes into view. `changed` asks the server first, so that a server that is down never takes the page away.
 */
export function useLookAgain(changed: () => Promise<boolean>, active: boolean): void {
  const { revalidate } = useRevalidator();
  const ask = useRef(changed);
  ask.current = changed;
  useEffect(() => {
    if (!active) return;
    let asking = false;
    const look = async () => {
      if (asking || document.visibilityState !== "visible") return;
      asking = true;
      try {
        if (await ask.current()) await revalidate();
      } catch {
        // Not reached: what is shown stays, and the next look may do better.
      } finally {
        asking = false;
      }
    };
    document.addEventListener("visibilitychange", look);
    const timer = setInterval(look, every_ms);
    return () => {
      document.removeEventListener("visibilitychange", look);
      clearInterval(timer);
    };
  }, [active, revalidate]);
}

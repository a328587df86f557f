import { type RefObject, useEffect, useRef } from "react";
import { useLocation } from "react-router";

/**
 * After a change of page the keys are the new page's. The link in the rail or in the bar that led there would keep them otherwise,
 * and a press of the space bar would count no drop; a screen reader would say nothing of the new page. What the page itself gave the keys to keeps them.
 */
export function useTaskInFocus(): RefObject<HTMLDivElement | null> {
  const stage = useRef<HTMLDivElement>(null);
  const { pathname } = useLocation();
  const shown = useRef(pathname);
  useEffect(() => {
    if (shown.current === pathname) return;
    shown.current = pathname;
    // The page scrolls to its top, or to where it was, by itself.
    if (!stage.current?.contains(document.activeElement)) stage.current?.focus({ preventScroll: true });
  }, [pathname]);
  return stage;
}

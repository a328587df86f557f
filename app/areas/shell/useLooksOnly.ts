import { useEffect, useState } from "react";
import { useLocation } from "react-router";

/** Their own password and PIN are everybody's to change. */
export const everybodys: readonly string[] = ["/me"];

const sentence =
  "With the role “read-only” you may look, but change nothing: this was not sent. Ask a manager.";

/**
 * Whoever may only look is told so where they are: the server would refuse what a form sends, on a page that has lost what was typed.
 * Returns the sentence once something was held back here.
 */
export function useLooksOnly(role: string): string | null {
  const { pathname } = useLocation();
  const [heldBack, setHeldBack] = useState(false);
  useEffect(() => {
    if (role !== "read-only" || everybodys.includes(pathname)) return;
    const holdBack = (event: SubmitEvent) => {
      const form = event.target as HTMLFormElement;
      // By its attribute: a field of the form may be called "method".
      if (form.getAttribute("method") !== "post" || !form.closest("main")) return;
      event.preventDefault();
      event.stopPropagation();
      setHeldBack(true);
    };
    // Before the page's own listeners hear of it.
    window.addEventListener("submit", holdBack, true);
    return () => {
      window.removeEventListener("submit", holdBack, true);
      setHeldBack(false);
    };
  }, [role, pathname]);
  return heldBack ? sentence : null;
}

import { useEffect } from "react";
import { useBlocker } from "react-router";
import { heardLately, untilReached, useUnreached } from "./reach";

/**
 * Keeps a page until the server can give the next one: the router would load the page anew where the next one's script cannot be
 * fetched, and nothing would be left of it. Says meanwhile that whatever was asked for waits.
 */
export function StayUntilReached() {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation, historyAction }) =>
      historyAction !== "POP" && nextLocation.pathname !== currentLocation.pathname && !heardLately(),
  );
  useEffect(() => {
    if (blocker.state !== "blocked") return;
    const left = new AbortController();
    void untilReached(left.signal).then(() => {
      if (!left.signal.aborted) blocker.proceed();
    });
    return () => left.abort();
  }, [blocker]);
  return (
    useUnreached() && (
      <p className="alarm at-foot" role="status">
        Brintel cannot be reached. What you typed stays here, and it goes on by itself when Brintel answers.
      </p>
    )
  );
}

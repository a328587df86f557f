import { useEffect, useState } from "react";

/** The clock of this page, in milliseconds; starts from the server's so that both sides draw the same first picture. */
export function useNow(serverNow: number, every_ms = 1000): number {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), every_ms);
    setNow(Date.now());
    return () => clearInterval(timer);
  }, [every_ms]);
  return now;
}

import { useEffect, useState } from "react";
import { correctedNow } from "./clock";

/** The server's clock on this page, in milliseconds; starts from what came with it so that both sides draw the same. */
export function useNow(serverNow: number, every_ms = 1000): number {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    const timer = setInterval(() => setNow(correctedNow()), every_ms);
    setNow(correctedNow());
    return () => clearInterval(timer);
  }, [every_ms]);
  return now;
}

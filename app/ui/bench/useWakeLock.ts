import { useEffect } from "react";

/** Keeps the screen awake while bench work is open; where the browser cannot, nothing happens. */
export function useWakeLock(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let ended = false;
    const take = async () => {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      try {
        const taken = await navigator.wakeLock.request("screen");
        if (ended) await taken.release();
        else lock = taken;
      } catch {
        // A device low on power refuses; the work goes on without.
      }
    };
    take();
    document.addEventListener("visibilitychange", take);
    return () => {
      ended = true;
      document.removeEventListener("visibilitychange", take);
      lock?.release();
    };
  }, []);
}

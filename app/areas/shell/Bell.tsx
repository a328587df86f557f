import { useCallback, useEffect, useRef, useState } from "react";
import type { RailClock } from "../../server/bench/openWorks.server";
import { useKey } from "../../ui/keys";

const muteKey = "brintel:muted";

/** Rings, shakes and flashes once when a clock comes to its moment, on whichever page is in view. */
export function Bell({ clocks, now }: { clocks: readonly RailClock[]; now: number }) {
  const [muted, setMuted] = useState(false);
  const [flash, setFlash] = useState(false);
  const rung = useRef(new Set<string>());
  const first = useRef(true);
  const bell = useRef<HTMLAudioElement | null>(null);
  useEffect(() => setMuted(localStorage.getItem(muteKey) === "yes"), []);
  const some = clocks.length > 0;
  useEffect(() => {
    if (!some) return;
    // Fetched while clocks run, so that it rings with no network; a sound element never holds the page up.
    bell.current ??= new Audio("/bell.wav");
    bell.current.preload = "auto";
  }, [some]);
  const toggle = useCallback(() => {
    setMuted((before) => {
      localStorage.setItem(muteKey, before ? "no" : "yes");
      return !before;
    });
  }, []);
  useKey("m", "m", muted ? "Let the clocks ring" : "Mute the clocks", toggle);
  const open = clocks
    .filter((c) => now >= c.opens)
    .map((c) => c.id)
    .join(" ");
  useEffect(() => {
    const fresh = open.split(" ").filter((id) => id && !rung.current.has(id));
    for (const id of fresh) rung.current.add(id);
    // What was ringing before this page was opened has been heard.
    const news = fresh.length > 0 && !first.current;
    first.current = false;
    if (!news) return;
    setFlash(true);
    const end = setTimeout(() => setFlash(false), 1200);
    if (!muted) {
      navigator.vibrate?.([200, 100, 200]);
      // A browser that has not been touched yet stays silent; the flash still shows.
      bell.current?.play().catch(() => {});
    }
    return () => clearTimeout(end);
  }, [open, muted]);
  if (clocks.length === 0) return null;
  return (
    <>
      <button type="button" className="bell" onClick={toggle} aria-pressed={muted}>
        {muted ? "Clocks are muted" : "Clocks ring"} <kbd>m</kbd>
      </button>
      {flash && <div className="flash" aria-hidden="true" />}
      <div className="hidden" role="status">
        {open ? clocks.find((c) => now >= c.opens)?.words : ""}
      </div>
    </>
  );
}

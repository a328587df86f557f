import { useCallback, useEffect, useRef, useState } from "react";
import type { RailClock } from "../../server/openRuns.server";
import { useKey } from "../../shared/keys";

const muteKey = "brintel:muted";

/** Two short tones, made here: nothing to load, nothing to miss without a network. */
function ring(context: AudioContext): void {
  for (const [at, pitch] of [
    [0, 880],
    [0.22, 1175],
  ] as const) {
    const tone = context.createOscillator();
    const loudness = context.createGain();
    tone.frequency.value = pitch;
    loudness.gain.setValueAtTime(0.25, context.currentTime + at);
    loudness.gain.exponentialRampToValueAtTime(0.001, context.currentTime + at + 0.2);
    tone.connect(loudness).connect(context.destination);
    tone.start(context.currentTime + at);
    tone.stop(context.currentTime + at + 0.2);
  }
}

/** Rings, shakes and flashes once when a clock comes to its moment, on whichever page is in view. */
export function Bell({ clocks, now }: { clocks: readonly RailClock[]; now: number }) {
  const [muted, setMuted] = useState(false);
  const [flash, setFlash] = useState(false);
  const rung = useRef(new Set<string>());
  const first = useRef(true);
  const audio = useRef<AudioContext | null>(null);
  useEffect(() => setMuted(localStorage.getItem(muteKey) === "yes"), []);
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
      try {
        audio.current ??= new AudioContext();
        ring(audio.current);
      } catch {
        // A browser that has not been touched yet stays silent; the flash still shows.
      }
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

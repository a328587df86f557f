import { useEffect, useRef } from "react";

/**
 * Begins what is proposed. It has the focus, so that Enter begins it, and the page still stands at its head: what is begun is seen first.
 * Whoever was quicker and is in a field already stays there.
 */
export function StartButton({ busy, label = "Start" }: { busy: boolean; label?: string }) {
  const own = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const { activeElement } = document;
    if (!activeElement?.matches("input, textarea, select")) own.current?.focus({ preventScroll: true });
  }, []);
  return (
    <button type="submit" className="act" disabled={busy} ref={own}>
      {label} <kbd>enter</kbd>
    </button>
  );
}

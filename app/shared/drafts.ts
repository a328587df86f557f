import { useCallback, useEffect, useState } from "react";

/** Text that survives a reload until it is cleared; kept in this browser only. */
export function useDraft(key: string, initial = ""): [string, (text: string) => void, () => void] {
  const [text, setText] = useState(initial);
  useEffect(() => {
    const kept = localStorage.getItem(`draft:${key}`);
    setText(kept ?? initial);
  }, [key, initial]);
  const change = useCallback(
    (next: string) => {
      setText(next);
      localStorage.setItem(`draft:${key}`, next);
    },
    [key],
  );
  const clear = useCallback(() => {
    setText(initial);
    localStorage.removeItem(`draft:${key}`);
  }, [key, initial]);
  return [text, change, clear];
}

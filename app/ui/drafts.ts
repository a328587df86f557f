import { useCallback, useEffect, useMemo, useState } from "react";

export interface Drafts {
  get(name: string): string;
  set(name: string, text: string): void;
  clear(): void;
}

/** The texts of one form, which survive a reload until they are cleared; kept in this browser only. */
export function useDrafts(key: string): Drafts {
  const place = `draft:${key}`;
  const [texts, setTexts] = useState<Record<string, string>>({});
  useEffect(() => {
    try {
      setTexts(JSON.parse(localStorage.getItem(place) ?? "{}"));
    } catch {
      setTexts({});
    }
  }, [place]);
  const set = useCallback(
    (name: string, text: string) =>
      setTexts((before) => {
        const after = { ...before, [name]: text };
        localStorage.setItem(place, JSON.stringify(after));
        return after;
      }),
    [place],
  );
  const clear = useCallback(() => {
    setTexts({});
    localStorage.removeItem(place);
  }, [place]);
  return useMemo(() => ({ get: (name) => texts[name] ?? "", set, clear }), [texts, set, clear]);
}

import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";

export interface PageKey {
  /** As react-hotkeys-hook spells it: "space", "backspace", "c". */
  keys: string;
  /** As the key is shown. */
  shown: string;
  does: string;
}

const Registry = createContext<{ keys: PageKey[]; add(key: PageKey): () => void } | null>(null);

/** Collects the keys that work on the page in view, for the key help. */
export function KeyRegistry({ children }: { children: ReactNode }) {
  const [keys, setKeys] = useState<PageKey[]>([]);
  const value = useMemo(
    () => ({
      keys,
      add(key: PageKey) {
        setKeys((all) => [...all, key]);
        return () => setKeys((all) => all.filter((k) => k !== key));
      },
    }),
    [keys],
  );
  return <Registry.Provider value={value}>{children}</Registry.Provider>;
}

export const usePageKeys = (): PageKey[] => useContext(Registry)?.keys ?? [];

/**
 * Makes a key of this page do something, and lists it in the key help. Not while typing in a field.
 * A key held down counts once: a drop is one press.
 */
export function useKey(keys: string, shown: string, does: string, run: () => void, enabled = true): void {
  const add = useRef(useContext(Registry)?.add);
  useHotkeys(
    keys,
    (event) => {
      const target = event.target as HTMLElement;
      // In a field for text every key is the field's own; a ticked box wants only the space bar.
      const box = target instanceof HTMLInputElement && ["checkbox", "radio"].includes(target.type);
      if (box ? event.key === " " : target.closest("input, textarea, select")) return;
      // Space and Enter on a focused button are the button's own.
      if ((event.key === " " || event.key === "Enter") && target.closest("button, a, [role=combobox]"))
        return;
      if (event.repeat) return;
      event.preventDefault();
      run();
    },
    { enabled, preventDefault: false, enableOnFormTags: true, useKey: keys === "?" || keys === "/" },
    [run, enabled],
  );
  useEffect(() => (enabled ? add.current?.({ keys, shown, does }) : undefined), [keys, shown, does, enabled]);
}

import { useEffect, useSyncExternalStore } from "react";
import { useHotkeys } from "react-hotkeys-hook";

export interface PageKey {
  /** As react-hotkeys-hook spells it: "space", "backspace", "c". */
  keys: string;
  /** As the key is shown. */
  shown: string;
  does: string;
}

/**
 * The keys that work on the page in view, for the key help. They are kept outside of the tree: in a context, each key that is listed would have
 * all others drawn anew, and a page that is being taken over would be so in one long task.
 */
let listed: readonly PageKey[] = [];
const readers = new Set<() => void>();

function list(change: (keys: readonly PageKey[]) => readonly PageKey[]): void {
  listed = change(listed);
  for (const read of readers) read();
}

function add(key: PageKey): () => void {
  list((all) => [...all, key]);
  return () => list((all) => all.filter((k) => k !== key));
}

function follow(read: () => void): () => void {
  readers.add(read);
  return () => readers.delete(read);
}

const nowListed = () => listed;

export const usePageKeys = (): readonly PageKey[] => useSyncExternalStore(follow, nowListed, nowListed);

/**
 * Makes a key of this page do something, and lists it in the key help. Not while typing in a field.
 * A key held down counts once: a drop is one press.
 */
export function useKey(keys: string, shown: string, does: string, run: () => void, enabled = true): void {
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
  useEffect(() => (enabled ? add({ keys, shown, does }) : undefined), [keys, shown, does, enabled]);
}

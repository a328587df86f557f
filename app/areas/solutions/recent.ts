import { useEffect, useState } from "react";
import { z } from "zod";

const place = "brintel.calculators";
/** So many are remembered in this browser. */
const most = 6;

const recentSchema = z.array(z.object({ id: z.string(), title: z.string(), search: z.string() })).max(most);
export type Recent = z.infer<typeof recentSchema>[number];

function read(): Recent[] {
  try {
    return recentSchema.parse(JSON.parse(localStorage.getItem(place) ?? "[]"));
  } catch {
    // A browser that keeps nothing, or something else under this name: nothing was used lately.
    return [];
  }
}

/** Remembers what was calculated last with a calculator, in this browser. */
export function rememberCalculator(one: Recent): void {
  const others = read().filter((r) => r.id !== one.id);
  try {
    localStorage.setItem(place, JSON.stringify([one, ...others].slice(0, most)));
  } catch {
    // A full or forbidden store is no reason to stop calculating.
  }
}

/** The calculators used last in this browser, with their numbers; none until the page is alive. */
export function useRecentCalculators(): Recent[] {
  const [recent, setRecent] = useState<Recent[]>([]);
  useEffect(() => setRecent(read()), []);
  return recent;
}

import { useEffect } from "react";
import { reachedNobody } from "./reach";

/** What each page showed last: a server that goes away while a page looks again must not take the page away. */
const shown = new Map<string, unknown>();

/** Remembers what a page shows, under its name. */
export function useRemember(name: string, data: unknown): void {
  useEffect(() => {
    shown.set(name, data);
  }, [name, data]);
}

/** Asks the server anew; where it cannot be reached, what was shown before stays. */
export async function orLastShown<T>(name: string, ask: () => Promise<T>): Promise<T> {
  try {
    return await ask();
  } catch (error) {
    if (reachedNobody(error) && shown.has(name)) return shown.get(name) as T;
    throw error;
  }
}

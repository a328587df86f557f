import { createContext, useContext } from "react";
import type { PracticeWater } from "../../../core/simulation/practiceWater";

/** Whether simulated instruments may stand in: in the demo's records and for practice, never in an organisation's own. */
export const PracticeContext = createContext(false);
export const usePractice = (): boolean => useContext(PracticeContext);

/** What stands on the bench of a practised run, and what hands may do with it. */
export interface Vessel {
  water: PracticeWater;
  /** What a replicate's instrument was moved to: the scale's place and all that was let out; undefined before it was touched. */
  moved(replicate: number): Moved | undefined;
  move(replicate: number, to: Moved): void;
  /** Lets so much time pass at once, in milliseconds. */
  pass(ms: number): void;
}

/** A burette or a syringe: where its scale stands and what it gave; of a tube or a disc the depth, of doses their number. */
export interface Moved {
  level: number;
  out: number;
}

/** The vessel of a practised run; null where the water is real. */
export const VesselContext = createContext<Vessel | null>(null);
export const useVessel = (): Vessel | null => useContext(VesselContext);

import { createContext, useContext } from "react";

/** Whether simulated instruments may stand in: in the demo's records and for practice, never in an organisation's own. */
export const PracticeContext = createContext(false);
export const usePractice = (): boolean => useContext(PracticeContext);

import type { NewEvent } from "../../../core/bench/event";
import type { MethodStep } from "../../../core/methods/method";
import type { Raw } from "../../../core/methods/raw";
import type { RunEvent } from "../../../core/runs/runEvents";
import type { RunState } from "../../../core/runs/runState";

/** What every way of reading is given. */
export interface ReadProps {
  state: RunState;
  replicate: number;
  step: MethodStep;
  /** The window has not opened yet: it is shown what will be read, and nothing can be kept. */
  closed: boolean;
  /** `simulated` where a simulated instrument gave it. */
  keep(raw: Raw, simulated?: boolean): void;
  add(event: NewEvent<RunEvent>): void;
  /** What the simulated instruments of this run are seeded with. */
  seed: string;
  /** How far the colour of made-up water has come, as a part of what it is when due; 1 where the water is real. */
  developed: number;
}

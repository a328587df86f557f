import type { Knex } from "knex";
import { runFolding } from "../../../core/runs/run";
import { type RunEvent, runEventSchema } from "../../../core/runs/runEvents";
import { currentReplicate, currentStep, type RunState } from "../../../core/runs/runState";
import { runningWaits } from "../../../core/runs/timing";
import { type OpenRun, openWorks } from "../bench/openWorks.server";

/** Every run that is open, with the step in hand and its running clocks. */
export const openRuns = (db: Knex): Promise<OpenRun[]> =>
  openWorks<RunState, RunEvent>(db, {
    kind: "analysis",
    schema: runEventSchema,
    folding: runFolding,
    show: (state, id) => ({
      words: currentStep(state, currentReplicate(state))?.text ?? "ready to be judged",
      clocks: runningWaits(state).map((wait) => ({
        id: `${id}-${wait.replicate}-${wait.step.id}`,
        words: wait.target.text,
        began: wait.began,
        opens: wait.opens,
        due: wait.due,
        closes: wait.closes,
      })),
    }),
  });

import type { Knex } from "knex";
import { replay } from "../../../core/bench/event";
import { dilutionWanted } from "../../../core/runs/overRange";
import { runFolding } from "../../../core/runs/run";
import { findWork, runEvents } from "../bench/bench.server";

/** A run that was over range, as a plan of its dilution needs it. */
export interface OverRange {
  id: string;
  method: { id: string; name: string };
  site: string;
  sample: string;
  unit: string;
  /** The most that the method can show, of the portion as it was run. */
  high: number;
  /** How often that portion was diluted already. */
  dilution: number;
  /** About what may be in it, and what the method shows best: proposals. */
  about: number;
  target: number;
  /** What all replicates together take, mL. */
  volume_ml: number;
}

/** What is known of a run that is to be diluted; null when there is no such run. */
export async function overRangeRun(db: Knex, id: string): Promise<OverRange | null> {
  if ((await findWork(db, id))?.kind !== "analysis") return null;
  const { state } = replay(await runEvents(db, id), runFolding);
  if (!state) return null;
  const { method } = state;
  return {
    id,
    method: { id: method.id, name: method.name },
    site: state.site.id,
    sample: state.sample,
    unit: `${method.result.unit} ${method.result.species}`,
    high: method.range.high,
    dilution: state.dilution,
    ...dilutionWanted(method.range, state.dilution),
    volume_ml: method.sample.volume_ml * method.replicates,
  };
}

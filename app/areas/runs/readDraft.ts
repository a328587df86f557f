import { z } from "zod";
import { plannedTestSchema } from "../../../core/planner/benchPlan";
import { mostTests } from "./planDraft";

/** What is kept in this browser, so that a reload loses nothing. */
const draftSchema = z.object({
  id: z.ulid(),
  tests: z.array(plannedTestSchema).max(mostTests),
  people: z.union([z.literal(1), z.literal(2)]),
  align: z.enum(["earliest", "together"]),
});
export type PlanDraft = z.infer<typeof draftSchema>;

/** Reads a draft as it was kept; null when it was kept by an older version. */
export function readDraft(kept: string): PlanDraft | null {
  try {
    return draftSchema.parse(JSON.parse(kept));
  } catch {
    return null;
  }
}

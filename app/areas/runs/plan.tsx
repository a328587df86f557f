import { nowIso, nowMs } from "../../server/platform/clock.server";
import "../../ui/bench/bench.css";
import "./runs.css";
import "./plan.css";
import { data, redirect, useLoaderData } from "react-router";
import { z } from "zod";
import { benchPlanSchema } from "../../../core/planner/benchPlan";
import { startReplanning } from "../../server/plans/planRunner.server";
import { endPlan, loadPlanPage, startPlan } from "../../server/plans/plans.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/plan";
import { DraftPlan } from "./DraftPlan";
import { FollowedPlan } from "./FollowedPlan";

export const meta: Route.MetaFunction = () => [{ title: "Plan · Brintel" }];

export const loader = ({ context }: Route.LoaderArgs) => loadPlanPage(context.get(dbContext), nowMs());

const formSchema = z.discriminatedUnion("intent", [
  z.object({
    intent: z.literal("start"),
    plan: z.string().transform((text, issue) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        issue.addIssue({ code: "custom", message: "The plan could not be read." });
        return z.NEVER;
      }
    }),
  }),
  z.object({ intent: z.literal("replan") }),
  z.object({ intent: z.literal("end"), id: z.ulid() }),
]);

const refused = (message: string) => data({ message }, { status: 422 });

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const actor = context.get(personContext);
  const now = nowIso();
  const form = formSchema.safeParse(Object.fromEntries(await request.formData()));
  if (!form.success) return refused(form.error.issues[0]?.message ?? "The plan could not be read.");
  switch (form.data.intent) {
    case "start": {
      const plan = benchPlanSchema.safeParse(form.data.plan);
      if (!plan.success) return refused("The plan could not be read. Change something, and start it again.");
      // The clock of the bench's server counts, not the browser's.
      const started = await startPlan(db, { ...plan.data, planned_at: Date.parse(now) }, actor, now);
      if (!started.ok) return refused(started.error.message);
      break;
    }
    case "replan":
      await startReplanning();
      break;
    case "end":
      await endPlan(db, form.data.id, actor, now);
  }
  return redirect("/runs/plan");
}

export default function PlanPage() {
  const loaded = useLoaderData<typeof loader>();
  return (
    <main>
      <h1>Plan several tests</h1>
      <p className="sub">
        Exact waits are kept, hands never overlap, and what keeps least is done first where it costs nothing.
      </p>
      {loaded.followed ? (
        <FollowedPlan {...loaded.followed} now={loaded.now} />
      ) : (
        <DraftPlan {...loaded.choice} />
      )}
    </main>
  );
}

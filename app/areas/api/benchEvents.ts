import { data } from "react-router";
import { z } from "zod";
import { countEvents, postEvents } from "../../server/bench/bench.server";
import { followWithProbe } from "../../server/devices/simulatedProbe.server";
import { startReplanning } from "../../server/plans/planRunner.server";
import { isThrownOut } from "../../server/plans/plans.server";
import { nowMs } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { troubleOf } from "../../server/platform/trouble.server";
import type { Route } from "./+types/benchEvents";

const bodySchema = z.object({
  /** The sender's clock when it sent: how far it is off is measured by it. */
  sent_at: z.iso.datetime().optional(),
  events: z
    .array(z.looseObject({ id: z.string().max(40) }))
    .min(1)
    .max(200),
});

/** How many events a piece of work has: what a page asks to know whether others have added some. */
export const loader = async ({ params, context }: Route.LoaderArgs) => ({
  count: await countEvents(context.get(dbContext), params.workId),
});

/**
 * Keeps bench events and answers each for itself: kept, known already, or refused with a sentence. Who did it is decided
 * here, by the cookie, not by what the browser says.
 */
export async function action({ request, params, context }: Route.ActionArgs) {
  const body = bodySchema.safeParse(await request.json().catch(() => null));
  if (!body.success) return data({ message: "The request carries no events." }, { status: 422 });
  const db = context.get(dbContext);
  const now = nowMs();
  const { sent_at, events } = body.data;
  const offset_ms = sent_at ? now - Date.parse(sent_at) : 0;
  try {
    const received = { at: new Date(now).toISOString(), offset_ms };
    const posted = await postEvents(db, context.get(personContext), params.workId, events, received);
    await followWithProbe(db, posted, received.at);
    // A test that was begun late throws out those that follow: the plan is made anew beside this request.
    if (posted.kept.length && (await isThrownOut(db, params.workId))) void startReplanning();
    return data({ now, answers: posted.answers });
  } catch (error) {
    const trouble = troubleOf(error);
    if (!trouble) throw error;
    return data({ message: trouble.message }, { status: 503 });
  }
}

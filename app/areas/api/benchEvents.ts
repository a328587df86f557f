import { data } from "react-router";
import { z } from "zod";
import { countEvents, postEvents } from "../../server/bench.server";
import { dbContext, personContext } from "../../server/contexts.server";
import { startReplanning } from "../../server/planRunner.server";
import { isThrownOut } from "../../server/plans.server";
import type { Route } from "./+types/benchEvents";

const bodySchema = z.object({
  events: z
    .array(z.looseObject({ id: z.string() }))
    .min(1)
    .max(200),
});

/** How many events a piece of work has: what a page asks to know whether others have added some. */
export const loader = async ({ params, context }: Route.LoaderArgs) => ({
  count: await countEvents(context.get(dbContext), params.workId),
});

/** Keeps bench events. Posting the same event twice counts once; one that cannot happen now answers 409 with a sentence. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const body = bodySchema.safeParse(await request.json().catch(() => null));
  if (!body.success) {
    return data(
      { refused: { id: "", code: "unreadable", message: "The request carries no events." } },
      { status: 422 },
    );
  }
  const by = context.get(personContext).id;
  // Who did it is decided here, by the cookie, not by what the browser says.
  const events = body.data.events.map((event) => ({ ...event, by }));
  const posted = await postEvents(context.get(dbContext), params.workId, events, new Date().toISOString());
  if ("refused" in posted) return data(posted, { status: posted.refused.code === "unreadable" ? 422 : 409 });
  // A test that was begun late throws out those that follow: the plan is made anew beside this request.
  if (await isThrownOut(context.get(dbContext), params.workId)) void startReplanning();
  return data(posted);
}

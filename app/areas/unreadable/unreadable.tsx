import { data, Form, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { findWork, postEvents } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/unreadable";

export const meta: Route.MetaFunction = () => [{ title: "Work that cannot be read · Brintel" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const work = await findWork(context.get(dbContext), params.workId);
  if (!work) throw new Response("No such work", { status: 404 });
  return { title: work.title ?? `a ${work.kind}`, started_at: work.started_at, open: work.status === "open" };
}

/** Gives the work up: all that can be done with it. What was kept of it stays in the database. */
export async function action({ params, context }: Route.ActionArgs) {
  const now = nowIso();
  const event = { id: ulid(), at: now, type: "abandoned", reason: "What was kept of it cannot be read." };
  const posted = await postEvents(
    context.get(dbContext),
    context.get(personContext),
    params.workId,
    [event],
    now,
  );
  return posted.refused ? data({ message: posted.refused.message }, { status: 422 }) : redirect("/");
}

export default function Unreadable() {
  const { title, open } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  return (
    <main className="narrow stack">
      <div>
        <h1>{title} cannot be read</h1>
        <p className="sub">
          What was kept of it does not fit this version of Brintel. Nothing else is touched by it, and nothing
          of it is deleted: tell whoever looks after Brintel.
        </p>
      </div>
      {open ? (
        <Form method="post" className="cluster">
          <button type="submit" className="act" disabled={busy}>
            Give it up
          </button>
        </Form>
      ) : (
        <p>It was given up.</p>
      )}
      {answer?.message && (
        <p className="wrong" role="alert">
          {answer.message}
        </p>
      )}
    </main>
  );
}

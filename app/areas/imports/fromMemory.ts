import { redirect } from "react-router";
import { readOutMemory } from "../../server/devices/readOut.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/fromMemory";

/** Reads an instrument's own memory out, and leads to where it is looked at before anything of it is kept. */
export async function action({ params, context }: Route.ActionArgs) {
  const kept = await readOutMemory(
    context.get(dbContext),
    params.meterId,
    context.get(personContext),
    nowIso(),
  );
  if ("message" in kept) throw new Response(kept.message, { status: 404 });
  return redirect(`/imports/${kept.id}`);
}

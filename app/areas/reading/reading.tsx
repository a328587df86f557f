import { useCallback, useMemo } from "react";
import { type ClientLoaderFunctionArgs, useLoaderData } from "react-router";
import type { Capture } from "../../../core/bench/capture";
import { replay } from "../../../core/bench/event";
import { meterReadingFolding } from "../../../core/readings/meterReading";
import { voidAction } from "../../server/bench/voidAction.server";
import { dbContext, dueContext, personContext } from "../../server/platform/contexts.server";
import { loadReading } from "../../server/results/readingPage.server";
import { useBench } from "../../ui/bench/useBench";
import { orLastShown, useRemember } from "../../ui/lastShown";
import type { Route } from "./+types/reading";
import { ReadingBench } from "./ReadingBench";
import { ReadingReport } from "./ReadingReport";

export const meta: Route.MetaFunction = () => [{ title: "Reading · Brintel" }];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadReading(context.get(dbContext), params.workId, context.get(personContext), context.get(dueContext));

/** Takes the results out of the record, with a reason. */
export const action = ({ request, params, context }: Route.ActionArgs) =>
  voidAction(context.get(dbContext), context.get(personContext), params.workId, request);

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

export default function ReadingPage() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  const { work, events, person } = loaded;
  const bench = useBench(work.id, events, meterReadingFolding, person.id);
  const { add, undo } = bench;
  const moves = useMemo(
    () => ({
      rinsed: (station: number) => add({ type: "rinsed", station }),
      placed: (station: number) => add({ type: "placed", station }),
      // A portion of a sample cannot be left out: a duplicate is two.
      skipped: () => undefined,
      captured: (station: number, capture: Capture) => add({ type: "captured", station, capture }),
      finished: () => add({ type: "finished" }),
      undo,
    }),
    [add, undo],
  );
  const abandon = useCallback(() => add({ type: "abandoned", reason: "Given up at the bench." }), [add]);
  const state = bench.state ?? replay(events, meterReadingFolding).state;
  if (!state) throw new Error("A reading without a beginning.");
  return state.status === "open" ? (
    <ReadingBench loaded={loaded} bench={bench} state={state} moves={moves} onAbandon={abandon} />
  ) : (
    <ReadingReport loaded={loaded} state={state} />
  );
}

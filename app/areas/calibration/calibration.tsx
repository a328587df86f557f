import { nowIso } from "../../server/platform/clock.server";
import { orLastShown, useRemember } from "../../ui/lastShown";
import "./calibration.css";
import { useCallback, useMemo } from "react";
import { type ClientLoaderFunctionArgs, redirect, useLoaderData } from "react-router";
import type { Capture } from "../../../core/bench/capture";
import { replay } from "../../../core/bench/event";
import { calibrationFolding } from "../../../core/calibration/session";
import { findWork } from "../../server/bench/bench.server";
import { loadCalibration } from "../../server/calibrations/calibrationPage.server";
import { takeOut } from "../../server/calibrations/takeOut.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { confirmRejudging, rejudgingOf } from "../../server/results/rejudge.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { takeOutByForm } from "../../server/results/takeOutAction.server";
import { useBench } from "../../ui/bench/useBench";
import type { Route } from "./+types/calibration";
import { CalibrationBench } from "./CalibrationBench";
import { CalibrationReport } from "./CalibrationReport";
import { CheckReport } from "./CheckReport";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  {
    title: `${loaderData?.work.kind === "check" ? "Check" : "Calibration"} of ${loaderData?.meter.code ?? "a meter"} · Brintel`,
  },
];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadCalibration(context.get(dbContext), params.workId, context.get(personContext));

/** Takes it out with a reason, tries again what follows of that, or confirms what a failed check means for the readings before it. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  if (form.has("reason")) {
    const take = (reason: string) => takeOut(db, params.workId, reason, context.get(personContext), nowIso());
    return takeOutByForm(form, take);
  }
  const now = nowIso();
  const out = { kind: "work" as const, subject_id: params.workId };
  const following = await rejudgingOf(db, out);
  if (following) {
    startRejudging(await confirmRejudging(db, out, following.cause, context.get(personContext), now));
    return redirect(`/checks/${params.workId}`);
  }
  const work = await findWork(db, params.workId);
  if (work?.kind !== "check" || work.status !== "finished") {
    throw new Response("No such check", { status: 404 });
  }
  const id = await confirmRejudging(
    db,
    { kind: "check", subject_id: work.id },
    "the check that followed failed",
    context.get(personContext),
    now,
  );
  startRejudging(id);
  return redirect(`/checks/${work.id}`);
}

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

export default function Calibration() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  const { work, events, person } = loaded;
  const bench = useBench(work.id, events, calibrationFolding, person.id);
  const { add, undo } = bench;
  const moves = useMemo(
    () => ({
      rinsed: (station: number) => add({ type: "rinsed", station }),
      placed: (station: number) => add({ type: "placed", station }),
      skipped: (station: number) => add({ type: "skipped", station }),
      captured: (station: number, capture: Capture) => add({ type: "captured", station, capture }),
      finished: () => add({ type: "finished" }),
      undo,
    }),
    [add, undo],
  );
  const abandon = useCallback(() => add({ type: "abandoned", reason: "Given up at the bench." }), [add]);
  const state = bench.state ?? replay(events, calibrationFolding).state;
  if (!state) throw new Error("A calibration without a beginning.");
  if (state.status === "open") {
    return <CalibrationBench loaded={loaded} bench={bench} state={state} moves={moves} onAbandon={abandon} />;
  }
  return state.purpose === "check" ? (
    <CheckReport loaded={loaded} state={state} />
  ) : (
    <CalibrationReport loaded={loaded} state={state} />
  );
}

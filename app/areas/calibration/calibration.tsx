import "./calibration.css";
import { useCallback, useMemo } from "react";
import { useLoaderData } from "react-router";
import type { Capture } from "../../../core/bench/capture";
import { replay } from "../../../core/bench/event";
import { calibrationFolding } from "../../../core/calibration/session";
import { loadCalibration } from "../../server/calibrationPage.server";
import { dbContext, personContext } from "../../server/contexts.server";
import { useBench } from "../../shared/bench/useBench";
import type { Route } from "./+types/calibration";
import { CalibrationBench } from "./CalibrationBench";
import { CalibrationReport } from "./CalibrationReport";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Calibration of ${loaderData?.meter.code ?? "a meter"} · Brintel` },
];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadCalibration(context.get(dbContext), params.workId, context.get(personContext));

export default function Calibration() {
  const loaded = useLoaderData<typeof loader>();
  const { work, events, person, finished } = loaded;
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
  return state.status === "open" ? (
    <CalibrationBench loaded={loaded} bench={bench} state={state} moves={moves} onAbandon={abandon} />
  ) : (
    <CalibrationReport loaded={loaded} state={state} finished={finished} />
  );
}

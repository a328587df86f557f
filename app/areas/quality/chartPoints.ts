import { verdicts } from "../../../core/judgement/finding";
import type { SignalRule } from "../../../core/quality/controlChart";
import { dbContext } from "../../server/platform/contexts.server";
import { chartState } from "../../server/quality/charts.server";
import type { Route } from "./+types/chartPoints";
import { chartKeyIn } from "./chartKey";

/** The results of a control in columns: ten thousand of them are read at once by the chart. */
export interface PointColumns {
  ids: string[];
  at: string[];
  values: number[];
  /** By their place in the list of verdicts. */
  verdicts: number[];
  /** What they signal, each by the place of the result that completes it. */
  signals: { index: number; rule: SignalRule }[];
}

export async function loader({ url, context }: Route.LoaderArgs) {
  const { points, signals } = await chartState(context.get(dbContext), chartKeyIn(url));
  const places = new Map(points.map((p, i) => [p.id, i]));
  const columns: PointColumns = {
    ids: points.map((p) => p.id),
    at: points.map((p) => p.measured_at),
    values: points.map((p) => p.value),
    verdicts: points.map((p) => verdicts.indexOf(p.verdict)),
    signals: signals.map(({ id, rule }) => ({ index: places.get(id) ?? 0, rule })),
  };
  return Response.json(columns);
}

import { voidAction } from "../../server/bench/voidAction.server";
import { orLastShown, useRemember } from "../../ui/lastShown";
import { PracticeContext } from "./practice";
import "../../ui/bench/bench.css";
import "./runs.css";
import { type ClientLoaderFunctionArgs, useLoaderData } from "react-router";
import { replay } from "../../../core/bench/event";
import { runFolding } from "../../../core/runs/run";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { loadRun } from "../../server/runs/runs.server";
import { useBench } from "../../ui/bench/useBench";
import { useWakeLock } from "../../ui/bench/useWakeLock";
import type { Route } from "./+types/run";
import { RunBench } from "./RunBench";
import { RunReport } from "./RunReport";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.work.title ?? "Run"} · Brintel` },
];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadRun(context.get(dbContext), params.workId, context.get(personContext));

/** Takes the results out of the record, with a reason. */
export const action = ({ request, params, context }: Route.ActionArgs) =>
  voidAction(context.get(dbContext), context.get(personContext), params.workId, request);

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

export default function RunPage() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  const { work, events, person } = loaded;
  const bench = useBench(work.id, events, runFolding, person.id);
  const state = bench.state ?? replay(events, runFolding).state;
  if (!state) throw new Error("A run without a beginning.");
  return state.status === "open" ? (
    <Awake>
      <PracticeContext value={loaded.rules.data === "demo"}>
        <RunBench
          seed={loaded.work.id}
          loadedAt={loaded.now}
          rules={loaded.rules}
          bench={bench}
          state={state}
        />
      </PracticeContext>
    </Awake>
  ) : (
    <RunReport loaded={loaded} state={state} />
  );
}

function Awake({ children }: { children: React.ReactNode }) {
  useWakeLock();
  return children;
}

import "./visits.css";
import { useCallback, useMemo } from "react";
import { type ClientLoaderFunctionArgs, Link, useLoaderData } from "react-router";
import { replay } from "../../../core/bench/event";
import { visitFolding } from "../../../core/samples/visit";
import { missing, nextTodo, visitTodo } from "../../../core/samples/visitTodo";
import { showTime } from "../../../core/time/words";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { loadVisit } from "../../server/visits/visits.server";
import { useBench } from "../../ui/bench/useBench";
import { useWakeLock } from "../../ui/bench/useWakeLock";
import { orLastShown, useRemember } from "../../ui/lastShown";
import { useNow } from "../../ui/useNow";
import type { Route } from "./+types/visit";
import { VisitCard } from "./VisitCard";
import { VisitReport } from "./VisitReport";

export const meta: Route.MetaFunction = () => [{ title: "Visit · Brintel" }];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadVisit(context.get(dbContext), params.workId, context.get(personContext));

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

export default function VisitPage() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  useWakeLock();
  const { work, events, person, works, zone } = loaded;
  const bench = useBench(work.id, events, visitFolding, person.id);
  const now = useNow(loaded.now);
  const state = bench.state ?? replay(events, visitFolding).state;
  if (!state) throw new Error("A visit without a beginning.");
  const todos = useMemo(() => visitTodo(state, works, now), [state, works, now]);
  const { add } = bench;
  const abandon = useCallback(() => add({ type: "abandoned", reason: "Given up on the way." }), [add]);
  if (state.status !== "open") return <VisitReport loaded={loaded} state={state} todos={todos} />;
  const left = missing(todos);
  const open = nextTodo(todos);
  return (
    <main className="visit stack">
      <div className="pagehead">
        <div>
          <h1>{state.site.name}</h1>
          <p className="sub">
            {state.arrived_at
              ? `Arrived ${showTime(state.arrived_at, zone)} · ${todos.length - left.length - 1} of ${todos.length - 1} done`
              : "Not there yet"}
          </p>
        </div>
        <div className="cluster">
          {bench.canUndo && (
            <button type="button" className="calm" onClick={bench.undo}>
              Undo
            </button>
          )}
          {!state.arrived_at && (
            <button type="button" className="calm" onClick={abandon}>
              Give up
            </button>
          )}
        </div>
      </div>
      {bench.trouble && (
        <p className="note" role="alert">
          {bench.trouble}
        </p>
      )}
      <ol className="visit-list">
        {todos.map((todo) => (
          <VisitCard
            key={todo.key}
            todo={todo}
            first={todo.key === open}
            state={state}
            loaded={loaded}
            missing={left}
            now={now}
            add={add}
          />
        ))}
      </ol>
      <p className="quiet small">
        Unreacted water goes back; reacted water, used strips and litter come along.{" "}
        <Link to="/visits">All visits</Link>
      </p>
    </main>
  );
}

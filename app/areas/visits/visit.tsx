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
import { showSeconds } from "../../ui/time";
import { useNow } from "../../ui/useNow";
import type { Route } from "./+types/visit";
import type { AddVisit } from "./cardProps";
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
      {state.back_by && <GiveWord back_by={state.back_by} now={now} add={add} />}
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

/** Somebody who is alone has promised a word: it is given here, and promised again. */
function GiveWord({ back_by, now, add }: { back_by: string; now: number; add: AddVisit }) {
  const left_s = Math.ceil((Date.parse(back_by) - now) / 1000);
  return (
    <div className={left_s > 0 ? "sheet cluster apart" : "note"} role={left_s > 0 ? undefined : "alert"}>
      <p>
        {left_s > 0 ? (
          <>
            Give word in <b className="m">{showSeconds(left_s)}</b>
          </>
        ) : (
          <b>Give word now: somebody waits to hear that you are well.</b>
        )}
      </p>
      <div className="cluster">
        <button
          type="button"
          className="calm strong"
          onClick={() => add({ type: "checked-in", back_by: new Date(now + 3_600_000).toISOString() })}
        >
          Word given: again in an hour
        </button>
        <button type="button" className="calm" onClick={() => add({ type: "checked-in", back_by: null })}>
          No further word
        </button>
      </div>
    </div>
  );
}

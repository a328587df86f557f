import { Link } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { pumpedVolume } from "../../../core/samples/purge";
import { clarityDepth, purgeWanted, type VisitState } from "../../../core/samples/visit";
import { lookKeys } from "../../../core/samples/visitEvents";
import { visitFindings } from "../../../core/samples/visitFindings";
import { missing, type Todo } from "../../../core/samples/visitTodo";
import { showTime } from "../../../core/time/words";
import type { LoadedVisit } from "../../server/visits/visits.server";
import { EvidencePanel, Findings, Rows } from "../../ui/EvidencePanel";
import { VerdictMark } from "../../ui/VerdictMark";
import { lookTitles } from "./LookCard";

/** A visit that is over: what it found, what it brought home, what was not done. */
export function VisitReport({
  loaded,
  state,
  todos,
}: {
  loaded: LoadedVisit;
  state: VisitState;
  todos: Todo[];
}) {
  const { zone, samples } = loaded;
  const left = missing(todos);
  const wanted = purgeWanted(state);
  const clarity = state.clarity?.value;
  const depth = clarity ? clarityDepth(clarity) : null;
  const end = Date.parse(state.finished_at ?? state.started_at);
  const rows: [string, string][] = [
    ...(state.air.value_c === null
      ? []
      : [["Air temperature", `${formatNumber(state.air.value_c, 1)} °C`] as [string, string]]),
    ...lookKeys.flatMap((key): [string, string][] => {
      const seen = state.look?.[key];
      return seen ? [[lookTitles[key], seen]] : [];
    }),
    ...(state.look?.note ? [["Also seen", state.look.note] as [string, string]] : []),
    ...(clarity
      ? [
          [
            "Clarity",
            depth === null
              ? `> ${formatNumber(clarity.depth_cm ?? 0, 0)} cm, seen on the bottom`
              : `${formatNumber(depth, 0)} cm`,
          ] as [string, string],
        ]
      : []),
    ...(wanted === null
      ? []
      : [
          [
            "Pumped",
            `${formatNumber(pumpedVolume(state.flows, end), 0)} of ${formatNumber(wanted, 0)} L`,
          ] as [string, string],
        ]),
  ];
  return (
    <>
      <main className="stack">
        <div>
          <h1>{state.site.name}</h1>
          <p className="sub">
            {state.status === "abandoned"
              ? "This visit was given up."
              : `${showTime(state.arrived_at ?? state.started_at, zone, "both")} to ${showTime(state.finished_at ?? "", zone)}`}
          </p>
        </div>
        {left.length > 0 && state.status === "finished" && (
          <div className="note">
            <div>
              <b>Planned and not done:</b> {left.join(", ")}.
            </div>
          </div>
        )}
        <ol className="visit-list">
          {todos
            .filter((t) => t.kind !== "leave")
            .map((todo) => (
              <li key={todo.key} className={`visit-item ${todo.state}`}>
                <div className="visit-head">
                  <VerdictMark verdict={todo.state === "done" ? "sound" : "qualified"} size={18} />
                  <span className="what">
                    <b>
                      {todo.work ? (
                        <Link to={todo.kind === "reading" ? `/readings/${todo.work}` : `/runs/${todo.work}`}>
                          {todo.title}
                        </Link>
                      ) : (
                        todo.title
                      )}
                    </b>
                    {todo.detail && <span className="quiet">{todo.detail}</span>}
                  </span>
                </div>
              </li>
            ))}
        </ol>
        {samples.length > 0 && (
          <section className="stack close">
            <h2>Brought home</h2>
            {samples.map((s) => (
              <div key={s.id} className="sheet stack close">
                <p>
                  <VerdictMark verdict={s.verdict} /> <b className="m">{s.code}</b> {s.type_name}
                </p>
                <p className="quiet">
                  Taken {showTime(s.collected_at, zone, "both")}, keeps until{" "}
                  {showTime(s.keeps_until, zone, "both")}.
                </p>
                <Findings findings={s.findings} />
              </div>
            ))}
          </section>
        )}
        <p>
          <Link to="/visits" className="calm strong">
            All visits
          </Link>
        </p>
      </main>
      <EvidencePanel title="What was found">
        {rows.length > 0 ? <Rows rows={rows} /> : <p className="quiet">Nothing was written down.</p>}
        <Findings findings={visitFindings(state)} />
      </EvidencePanel>
    </>
  );
}

import { Link } from "react-router";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import { clarityChange, clarityWords } from "../../../core/samples/clarity";
import { showPosition } from "../../../core/samples/position";
import { purgeAt, type VisitState } from "../../../core/samples/visit";
import { lookKeys } from "../../../core/samples/visitEvents";
import { closingFinding, visitFindings } from "../../../core/samples/visitFindings";
import { missing, type Todo } from "../../../core/samples/visitTodo";
import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import type { LoadedVisit } from "../../server/visits/visits.server";
import { DueMark } from "../../ui/DueMark";
import { EvidencePanel, Findings, Rows } from "../../ui/EvidencePanel";
import { VerdictMark } from "../../ui/VerdictMark";
import { lookTitles } from "./LookCard";
import { Photos } from "./Photos";

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
  const rows = [...foundRows(state), ...changeRows(state, loaded)];
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
                  {todo.state === "done" ? <VerdictMark verdict="sound" size={18} /> : <DueMark size={18} />}
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
                  <VerdictMark verdict={s.verdict} />{" "}
                  <Link to={`/samples/${s.id}`} className="m">
                    {s.code}
                  </Link>{" "}
                  {s.type_name}
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
        <Findings findings={[...visitFindings(state), ...loaded.owed.map((m) => closingFinding(m.code))]} />
        {loaded.owed.map((m) => (
          <p key={m.meter_id}>
            <Link to={`/meters/${m.meter_id}/check?moment=closing`}>The closing check of {m.code}</Link>
          </p>
        ))}
        <Photos state={state} add={() => undefined} />
      </EvidencePanel>
    </>
  );
}

/** What changed since the earlier visits of the same day. */
function changeRows({ clarity }: VisitState, { before, zone, work }: LoadedVisit): [string, string][] {
  if (!clarity) return [];
  const day = localDate(work.started_at, zone);
  return before.flatMap((b): [string, string][] => {
    if (!b.clarity || localDate(b.arrived_at, zone) !== day) return [];
    const change = clarityChange(b.clarity.value, clarity.value);
    const words = clarityWords(b.clarity.value);
    return [
      [
        `Clarity at ${showTime(b.clarity.at, zone)}`,
        change === null ? words : `${words}; ${formatSigned(change, 0)} cm since`,
      ],
    ];
  });
}

/** What was found at the water, with its unit. */
function foundRows(state: VisitState): [what: string, found: string][] {
  const rows: [string, string][] = [];
  const { air, look, clarity } = state;
  if (air.value_c !== null) rows.push(["Air temperature", `${formatNumber(air.value_c, 1)} °C`]);
  for (const key of lookKeys) if (look?.[key]) rows.push([lookTitles[key], look[key]]);
  if (state.position) rows.push(["Stood at", showPosition(state.position)]);
  if (state.people) rows.push(["With", state.people]);
  if (look?.note) rows.push(["Also seen", look.note]);
  if (clarity) rows.push(["Clarity", clarityWords(clarity.value)]);
  const purge = purgeAt(state, Date.parse(state.finished_at ?? state.started_at));
  if (purge)
    rows.push(["Pumped", `${formatNumber(purge.pumped_l, 0)} of ${formatNumber(purge.wanted_l, 0)} L`]);
  return rows;
}

import { type ReactNode, Suspense, useState } from "react";
import { Link } from "react-router";
import { closingFinding } from "../../../core/samples/visitFindings";
import type { Todo } from "../../../core/samples/visitTodo";
import type { LoadedVisit } from "../../server/visits/visits.server";
import { DueMark } from "../../ui/DueMark";
import { lazyPart } from "../../ui/lazyPart";
import { VerdictMark } from "../../ui/VerdictMark";
import { AirCard } from "./AirCard";
import { ArriveCard } from "./ArriveCard";
import { BottleCard } from "./BottleCard";
import { ClarityCard } from "./ClarityCard";
import type { AddVisit, CardProps } from "./cardProps";
import { LookCard } from "./LookCard";
import { DipCard, PumpCard } from "./WellCards";

const RoundsCard = lazyPart(() => import("./RoundsCard"));

const stateWords: Record<Todo["state"], string> = { todo: "to do", begun: "begun", done: "done" };

/** One item of the visit: closed it is a line, open it is a card with its one action. */
export function VisitCard({
  todo,
  first,
  state,
  loaded,
  missing,
  now,
  add,
}: CardProps & { first: boolean; loaded: LoadedVisit; missing: string[] }) {
  const [asked, setAsked] = useState<boolean | null>(null);
  // The next thing to do is open; what somebody opened or closed stays so until it is done.
  const open = asked ?? first;
  return (
    <li className={`visit-item ${todo.state}${open ? " open" : ""}`}>
      <button
        type="button"
        className="visit-head"
        aria-expanded={open}
        aria-label={`${todo.title}, ${stateWords[todo.state]}${todo.detail ? `: ${todo.detail}` : ""}`}
        onClick={() => setAsked(!open)}
      >
        {todo.state === "done" ? <VerdictMark verdict="sound" size={18} /> : <DueMark size={18} />}
        <span className="what">
          <b>{todo.title}</b>
          {todo.detail && <span className="quiet">{todo.detail}</span>}
        </span>
      </button>
      {open && (
        <div className="visit-body stack close">
          <Body {...{ todo, state, loaded, missing, now, add }} />
        </div>
      )}
    </li>
  );
}

function Body(props: CardProps & { loaded: LoadedVisit; missing: string[] }): ReactNode {
  const { todo, state, add, loaded, missing } = props;
  if (todo.kind === "arrive") return <ArriveCard {...props} />;
  if (!state.arrived_at) return <p className="quiet">First say that you have arrived.</p>;
  switch (todo.kind) {
    case "air":
      return <AirCard {...props} />;
    case "look":
      return <LookCard {...props} before={loaded.before} />;
    case "dip":
      return <DipCard {...props} place={loaded.place} />;
    case "pump":
      return <PumpCard {...props} />;
    case "well":
      return (
        <Suspense fallback={null}>
          <RoundsCard {...props} />
        </Suspense>
      );
    case "bottle":
      return <BottleCard {...props} loaded={loaded} />;
    case "clarity":
      return <ClarityCard {...props} />;
    case "reading":
      return <ReadingLinks {...props} />;
    case "test":
      return <TestLink {...props} />;
    default:
      return (
        <Leave
          missing={missing}
          owed={loaded.owed}
          hangs={state.air.hung_at !== null && !state.air.fetched}
          add={add}
        />
      );
  }
}

/** A reading in place is taken with a meter that measures it. */
function ReadingLinks({ todo, loaded }: CardProps & { loaded: LoadedVisit }) {
  const { work, measurand } = todo;
  if (work)
    return (
      <Link className={todo.state === "done" ? "calm strong" : "act"} to={`/readings/${work}`}>
        {todo.state === "done" ? "Look at the reading" : "Go on reading"}
      </Link>
    );
  const meters = loaded.meters.filter((m) => m.measurands.some((q) => q === measurand));
  if (meters.length === 0) return <p className="note">No meter here measures this.</p>;
  return (
    <>
      <p className="quiet">
        In the moving water, upstream of your feet; the cable and the probe are not touched while it settles.
      </p>
      <div className="cluster">
        {meters.map((m) => (
          <Link
            key={m.id}
            className="calm strong"
            to={`/meters/${m.id}/read?site=${loaded.work.site_id}&visit=${loaded.work.id}`}
          >
            Read with {m.code}
          </Link>
        ))}
      </div>
    </>
  );
}

function TestLink({ todo, state, loaded }: CardProps & { loaded: LoadedVisit }) {
  const { work, method = "" } = todo;
  if (work)
    return (
      <Link className={todo.state === "done" ? "calm strong" : "act"} to={`/runs/${work}`}>
        {todo.state === "done" ? "Look at the result" : "Go on with it"}
      </Link>
    );
  const from = `/runs/new/${method}?site=${loaded.work.site_id}&visit=${loaded.work.id}`;
  const full = state.bottles.flatMap((b, i) =>
    b.sample && b.filled_at
      ? [{ code: b.sample.code, at: b.filled_at, name: state.plan.bottles[i]?.name ?? "" }]
      : [],
  );
  return (
    <div className="cluster">
      <Link className="act" to={from}>
        Test the water here
      </Link>
      {full.map((b) => (
        <Link
          key={b.code}
          className="calm strong"
          to={`${from}&sample=${encodeURIComponent(b.code)}&collected=${b.at}`}
        >
          From {b.code}
        </Link>
      ))}
    </div>
  );
}

/** What was planned and is not done is named before anybody goes. */
function Leave({
  missing,
  owed,
  hangs,
  add,
}: {
  missing: string[];
  owed: LoadedVisit["owed"];
  hangs: boolean;
  add: AddVisit;
}) {
  return (
    <>
      {owed.map((m) => (
        <p key={m.meter_id} className="note">
          <DueMark />
          <span>
            {closingFinding(m.code).sentence}{" "}
            <Link to={`/meters/${m.meter_id}/check?moment=closing`}>Its closing check</Link>
          </span>
        </p>
      ))}
      {missing.length > 0 && (
        <div className="note">
          <div>
            <b>Not done:</b>
            <ul className="points">
              {missing.map((name) => (
                <li key={name}>{name}</li>
              ))}
            </ul>
          </div>
        </div>
      )}
      <ul className="points">
        <li>Waste, tubes and litter come along; unreacted water went back.</li>
        <li>Gear is rinsed, dried and decontaminated before the next water; the site is as you found it.</li>
        <li>
          Probe: guard off without knocking, a finger's breadth of tap water in the cup, connector capped,
          cable wound loosely.
        </li>
      </ul>
      {hangs ? (
        <button type="button" className="act" onClick={() => add({ type: "fetched" })}>
          The air thermometer is in the bag
        </button>
      ) : (
        <button type="button" className="act" onClick={() => add({ type: "finished" })}>
          {missing.length > 0 ? "Leave without them" : "Leave"}
        </button>
      )}
    </>
  );
}

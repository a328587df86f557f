import { useEffect } from "react";
import { Form, Link } from "react-router";
import type { Followed } from "../../server/plans/plans.server";
import { showSeconds } from "../../ui/time";
import { useLookAgain } from "../../ui/useLookAgain";
import { useNow } from "../../ui/useNow";
import { useSending } from "../../ui/useSending";
import { Lanes } from "./Lanes";
import { PlanFigures } from "./PlanFigures";
import { draftKey } from "./planDraft";

const reachable = async () => (await fetch("/health")).ok;

/** A plan at work: what to begin next and when, and how the bench stands to it. */
export function FollowedPlan({ plan, figures, progress, next, now }: Followed & { now: number }) {
  const busy = useSending();
  useEffect(() => localStorage.removeItem(draftKey), []);
  // Runs go on in other tabs and on other devices.
  useLookAgain(reachable, true);
  return (
    <>
      {plan.revision > 0 && plan.trouble === null && (
        <p className="note" role="status">
          Planned anew from where the bench stands. What is under way keeps its clocks.
        </p>
      )}
      {plan.trouble && (
        <p className="wrong" role="alert">
          {plan.trouble}
        </p>
      )}
      <ToBegin plan={plan} next={next} serverNow={now} />
      <PlanFigures {...figures} stretch_s={plan.stretch_s} proved={plan.proved} />
      <Lanes
        jobs={plan.jobs}
        starts={plan.starts}
        person={plan.person}
        people={plan.people}
        makespan_s={figures.makespan_s}
        progress={progress}
        since={plan.planned_at}
      />
      <div className="actions">
        <Form method="post">
          <button type="submit" name="intent" value="replan" className="calm strong" disabled={busy}>
            {busy ? "Planning …" : "Plan again from now"}
          </button>
        </Form>
        <button type="button" className="calm" onClick={() => window.print()}>
          Print as a bench card
        </button>
        <Form method="post">
          <input type="hidden" name="id" value={plan.id} />
          <button type="submit" name="intent" value="end" className="calm" disabled={busy}>
            Put the plan away
          </button>
        </Form>
      </div>
    </>
  );
}

/** What to begin, and when: the next one large. */
function ToBegin({ plan, next, serverNow }: Pick<Followed, "plan" | "next"> & { serverNow: number }) {
  const now = useNow(serverNow);
  if (next.length === 0) {
    return <p className="note">Everything is begun. The clocks in the day's line say what is next.</p>;
  }
  return (
    <ol className="list runs-list to-begin" aria-label="What to begin, and when">
      {next.map(({ job, person, at, open, href }) => {
        const left = Math.ceil((at - now) / 1000);
        return (
          <li key={`${job.run} ${job.replicate}`} className={left <= 0 ? "due" : ""}>
            <b className="m">
              {left > 0 ? showSeconds(left) : left > -10 ? "now" : `+${showSeconds(-left)}`}
            </b>
            <span className="name">{job.name}</span>
            {plan.people > 1 && <span className="quiet">person {person + 1}</span>}
            <Link className={left <= 0 ? "act" : "calm strong"} to={href}>
              {open ? "Go on with it" : "Begin"}
            </Link>
          </li>
        );
      })}
    </ol>
  );
}

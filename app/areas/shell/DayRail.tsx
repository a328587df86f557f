import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { showTime } from "../../../core/time/words";
import type { OpenRun } from "../../server/bench/openWorks.server";
import type { RailRunning } from "../../server/day/day.server";
import type { DueEntry } from "../../server/day/dueEntry";
import type { ShownRail } from "../../server/review/railOf.server";
import { DueMark } from "../../ui/DueMark";
import { showSeconds } from "../../ui/time";
import { Unbroken } from "../../ui/Unbroken";
import { useNow } from "../../ui/useNow";
import { VerdictMark } from "../../ui/VerdictMark";
import { Bell } from "./Bell";
import { useFreshRail } from "./useFreshRail";

/** The shift as a line of time: what happened above the now-mark, what runs at it, what is due below. Only what is at the mark goes by the second. */
export function DayRail({ loaded, feed }: { loaded: ShownRail; feed: string }) {
  const rail = useFreshRail(loaded);
  return (
    <nav className="rail" aria-label="The day">
      {rail.happened.length === 0 && <p className="rail-empty">Nothing has been measured today.</p>}
      {rail.happened.map((event) => (
        <Link key={event.id} to={event.href} className="rail-item happened">
          <span className="t m">{showTime(event.at, rail.zone)}</span>
          <span className="g">
            <VerdictMark verdict={event.verdict} />
          </span>
          <span className="what">
            <b>{event.title}</b>
            <span className="s">
              <Unbroken>{event.detail}</Unbroken>
            </span>
          </span>
        </Link>
      ))}
      <AtNow rail={rail} />
      {rail.due.map((item) =>
        "entries" in item ? (
          <details key={item.id} className="due-group">
            <summary className="rail-item due">
              <DueLine {...item} />
            </summary>
            {item.entries.map((due) => (
              <Due key={due.id} due={due} />
            ))}
            {item.others > 0 && (
              <Link to={`/due#${item.anchor}`} className="rail-item due">
                <span className="t m" />
                <span className="g" />
                <span className="what">and {item.others} more: see all of them</span>
              </Link>
            )}
          </details>
        ) : (
          <Due key={item.id} due={item} />
        ),
      )}
      {rail.due.length > 0 && (
        <Link className="rail-feed" to="/due">
          Everything that is due
        </Link>
      )}
      <a className="rail-feed" href={feed}>
        What is due, as a calendar
      </a>
    </nav>
  );
}

/** The now-mark with what runs at it. */
function AtNow({ rail }: { rail: ShownRail }) {
  const now = useNow(Date.parse(rail.now));
  const mark = useRef<HTMLDivElement>(null);
  const count = rail.happened.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new entry above pushes the mark out of sight
  useEffect(() => {
    mark.current?.scrollIntoView({ block: "nearest" });
  }, [count]);
  return (
    <>
      <div className="now m" ref={mark}>
        {showTime(new Date(now).toISOString(), rail.zone)}
        <i />
      </div>
      {rail.running.map((work) => (
        <Running key={work.id} work={work} now={now} />
      ))}
      {rail.runs.map((run) => (
        <Run key={run.id} run={run} now={now} />
      ))}
      <Bell clocks={rail.runs.flatMap((run) => run.clocks)} now={now} />
    </>
  );
}

function Due({ due }: { due: DueEntry }) {
  return (
    <Link to={due.href} className="rail-item due">
      <DueLine {...due} />
    </Link>
  );
}

/** When, what, and of what: the same of a single entry and of a group. */
function DueLine({ when, title, detail }: Pick<DueEntry, "when" | "title" | "detail">) {
  return (
    <>
      <span className="t m">{when}</span>
      <span className="g">
        <DueMark />
      </span>
      <span className="what">
        <Unbroken>{title}</Unbroken>
        <span className="s">
          <Unbroken>{detail}</Unbroken>
        </span>
      </span>
    </>
  );
}

/** An open run: its clocks as bars that fill, or what it waits for. */
function Run({ run, now }: { run: OpenRun; now: number }) {
  if (run.clocks.length === 0) {
    return (
      <Link to={run.href} className="wait still">
        {run.title}
        <span className="s">{run.words}</span>
      </Link>
    );
  }
  return run.clocks.map((clock) => {
    const left = Math.ceil((clock.due - now) / 1000);
    const late = clock.closes !== null && now > clock.closes;
    const open = now >= clock.opens;
    return (
      <Link
        key={clock.id}
        to={run.href}
        className={`wait ${open ? "ringing" : "still"}`}
        aria-label={`${run.title}: ${clock.words}`}
      >
        <span className="c m">{left >= 0 ? showSeconds(left) : `+${showSeconds(-left)}`}</span>
        {run.title}
        <span className="s">
          {open ? (late ? `late: ${clock.words}` : `now: ${clock.words}`) : clock.words}
        </span>
        <span className="b">
          <i
            style={{
              width: `${Math.min(100, Math.max(0, ((now - clock.began) / (clock.due - clock.began)) * 100))}%`,
            }}
          />
        </span>
      </Link>
    );
  });
}

function Running({ work, now }: { work: RailRunning; now: number }) {
  const elapsed = Math.max(0, (now - Date.parse(work.since)) / 1000);
  const left = work.expected_s === null ? null : work.expected_s - elapsed;
  const overdue = left !== null && left <= 0;
  return (
    <Link to={work.href} className={`wait ${work.expected_s === null ? "still" : ""}`}>
      {left !== null && !overdue && <span className="c m">{showSeconds(left)}</span>}
      {work.title}
      <span className="s">{overdue ? "should be steady" : work.detail}</span>
      {work.expected_s !== null && (
        <span className="b">
          <i style={{ width: `${Math.min(100, (elapsed / work.expected_s) * 100)}%` }} />
        </span>
      )}
    </Link>
  );
}

import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { DayRail as Rail, RailRunning } from "../../server/day.server";
import { DueMark } from "../../shared/DueMark";
import { showSeconds, showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";

/** The clock of this page; starts from the server's so that both sides render the same first picture. */
function useNow(serverNow: string): number {
  const [now, setNow] = useState(Date.parse(serverNow));
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000);
    setNow(Date.now());
    return () => clearInterval(timer);
  }, []);
  return now;
}

/** The shift as a line of time: what happened above the now-mark, what runs at it, what is due below. */
export function DayRail({ rail }: { rail: Rail }) {
  const now = useNow(rail.now);
  const mark = useRef<HTMLDivElement>(null);
  const count = rail.happened.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new entry above pushes the mark out of sight
  useEffect(() => {
    mark.current?.scrollIntoView({ block: "nearest" });
  }, [count]);
  const nothing = rail.happened.length === 0;
  return (
    <nav className="rail" aria-label="The day">
      {nothing && <p className="rail-empty">Nothing has been measured today.</p>}
      {rail.happened.map((event) => (
        <Link key={event.id} to={event.href} className="rail-item happened">
          <span className="t m">{showTime(event.at, rail.zone)}</span>
          <span className="g">
            <VerdictMark verdict={event.verdict} />
          </span>
          <span className="what">
            <b>{event.title}</b>
            <span className="s">{event.detail}</span>
          </span>
        </Link>
      ))}
      <div className="now m" ref={mark}>
        {showTime(new Date(now).toISOString(), rail.zone)}
        <i />
      </div>
      {rail.running.map((work) => (
        <Running key={work.id} work={work} now={now} />
      ))}
      {rail.due.map((due) => (
        <Link key={due.id} to={due.href} className="rail-item due">
          <span className="t m">{due.when}</span>
          <span className="g">
            <DueMark />
          </span>
          <span className="what">
            {due.title}
            <span className="s">{due.detail}</span>
          </span>
        </Link>
      ))}
      <a className="rail-feed" href="/due.ics">
        What is due, as a calendar
      </a>
    </nav>
  );
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

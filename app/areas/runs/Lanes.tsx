import { memo, useEffect, useRef, useState } from "react";
import type { JobProgress } from "../../../core/planner/benchPlan";
import { type Job, opsOf } from "../../../core/planner/job";
import { showSeconds } from "../../ui/time";

const progressWords = { waiting: "", begun: " · under way", done: " · done" } as const;

/** Bars of one kind as one path: few elements, quickly drawn. Width is a thousand units. */
const bars = (list: readonly { from: number; seconds: number }[], whole: number, y: number, height: number) =>
  list
    .filter(({ seconds }) => seconds > 0)
    .map(({ from, seconds }) => {
      const width = Math.max(2, (seconds / whole) * 1000);
      return `M${((from / whole) * 1000).toFixed(1)} ${y}h${width.toFixed(1)}v${height}h-${width.toFixed(1)}z`;
    })
    .join("");

/** One test: hands in the person's colour and place, waits pale, what a wait lasts longer than it must grey. */
const Lane = memo(function Lane({
  job,
  starts,
  person,
  people,
  whole,
  progress,
}: {
  job: Job;
  starts: readonly number[];
  person: number;
  people: number;
  whole: number;
  progress: JobProgress;
}) {
  const ops = opsOf(job);
  const hands = ops.map((op, k) => ({ from: starts[k] ?? 0, seconds: op.seconds }));
  const waits = ops.slice(1).map((op, k) => {
    const from = (starts[k] ?? 0) + (ops[k]?.seconds ?? 0);
    return { from, seconds: op.min_lag, until: starts[k + 1] ?? from };
  });
  const stretched = waits.map((w) => ({ from: w.from + w.seconds, seconds: w.until - w.from - w.seconds }));
  return (
    <div className={`lane ${progress}`}>
      <span>
        {job.name}
        <span className="quiet">
          {people > 1 && ` · person ${person + 1}`}
          {progressWords[progress]}
        </span>
      </span>
      <div className="track">
        <svg
          viewBox="0 0 1000 30"
          preserveAspectRatio="none"
          role="img"
          aria-label={`starts at ${showSeconds(starts[0] ?? 0)}`}
        >
          <path className="waits" d={bars(waits, whole, 9, 12)} />
          <path className="stretched" d={bars(stretched, whole, 13, 4)} />
          <path className={person ? "hands second" : "hands"} d={bars(hands, whole, person ? 15 : 3, 12)} />
        </svg>
      </div>
      <span className="m">{showSeconds(starts[0] ?? 0)}</span>
    </div>
  );
});

/** So many lanes are drawn in one go. */
const slice = 6;

/** A plan as lanes, one a job, drawn a few at a time so that the page never hangs; a line runs along while it is followed. */
export function Lanes({
  jobs,
  starts,
  person,
  people,
  makespan_s,
  progress,
  since,
}: {
  jobs: readonly Job[];
  starts: readonly (readonly number[])[];
  person: readonly number[];
  people: number;
  makespan_s: number;
  progress?: readonly JobProgress[];
  /** When second 0 was, in milliseconds of the epoch; null for a plan that is not followed. */
  since: number | null;
}) {
  const box = useRef<HTMLElement>(null);
  const [count, setCount] = useState(slice);
  useEffect(() => {
    if (count >= jobs.length) return;
    const frame = requestAnimationFrame(() => setCount((drawn) => drawn + slice));
    return () => cancelAnimationFrame(frame);
  }, [count, jobs.length]);
  const whole = Math.max(1, makespan_s);
  useEffect(() => {
    if (since === null) return;
    // A property of the style, not a state: the lanes need not be drawn again each second.
    const move = () =>
      box.current?.style.setProperty("--at", `${Math.min(1, (Date.now() - since) / 1000 / whole)}`);
    move();
    const timer = setInterval(move, 1000);
    return () => clearInterval(timer);
  }, [since, whole]);
  const order = jobs
    .map((job, j) => ({ job, j, start: starts[j]?.[0] ?? 0 }))
    .sort((a, b) => a.start - b.start || a.j - b.j);
  return (
    <section className={since === null ? "lanes" : "lanes followed"} aria-label="The plan" ref={box}>
      {order.slice(0, count).map(({ job, j }) => (
        <Lane
          key={j}
          job={job}
          starts={starts[j] ?? []}
          person={person[j] ?? 0}
          people={people}
          whole={whole}
          progress={progress?.[j] ?? "waiting"}
        />
      ))}
    </section>
  );
}

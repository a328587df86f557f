import { memo } from "react";
import { type Job, opsOf } from "../../../core/planner/job";
import type { Planned } from "../../../core/planner/planner";
import { showSeconds } from "../../shared/time";

/** The plan as lanes, one a job: hands in the person's colour and pattern of place, waits pale, stretched waits grey. */
export const Lanes = memo(function Lanes({
  jobs,
  plan,
  at,
}: {
  jobs: readonly Job[];
  plan: Planned;
  at: number | null;
}) {
  const x = (seconds: number) => (seconds / Math.max(1, plan.makespan_s)) * 1000;
  const order = jobs
    .map((job, j) => ({ job, j, start: plan.starts[j]?.[0] ?? 0 }))
    .sort((a, b) => a.start - b.start || a.j - b.j);
  return (
    <section className="lanes" aria-label="The plan">
      {order.map(({ job, j, start }) => {
        const ops = opsOf(job);
        const starts = plan.starts[j] ?? [];
        return (
          <div className="lane" key={job.name}>
            <span>
              {job.name}
              {plan.person.some((p) => p > 0) && (
                <span className="quiet"> · person {(plan.person[j] ?? 0) + 1}</span>
              )}
            </span>
            <svg
              viewBox="0 0 1000 30"
              preserveAspectRatio="none"
              role="img"
              aria-label={`starts at ${showSeconds(start)}`}
            >
              {ops.map((op, k) => {
                const from = starts[k] ?? 0;
                const before = k > 0 ? (starts[k - 1] ?? 0) + (ops[k - 1]?.seconds ?? 0) : null;
                const waited = before === null ? null : before + op.min_lag;
                return (
                  <g key={k}>
                    {before !== null && waited !== null && (
                      <>
                        <rect className="waits" x={x(before)} y="9" width={x(waited - before)} height="12" />
                        <rect
                          className="stretched"
                          x={x(waited)}
                          y="13"
                          width={Math.max(0, x(from - waited))}
                          height="4"
                        />
                      </>
                    )}
                    <rect
                      className={plan.person[j] ? "hands second" : "hands"}
                      x={x(from)}
                      y={plan.person[j] ? 15 : 3}
                      width={Math.max(2, x(op.seconds))}
                      height="12"
                    />
                  </g>
                );
              })}
              {at !== null && at <= plan.makespan_s && (
                <line x1={x(at)} x2={x(at)} y1="0" y2="30" stroke="currentColor" strokeWidth="3" />
              )}
            </svg>
            <span className="m">{showSeconds(start)}</span>
          </div>
        );
      })}
    </section>
  );
});

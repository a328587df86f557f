import { Select } from "antd";
import { useMemo, useState } from "react";
import { useFetcher } from "react-router";
import { ulid } from "ulid";
import type { BenchPlan } from "../../../core/planner/benchPlan";
import { byPerishability, jobsOf } from "../../../core/planner/fromMethod";
import type { PlanChoice } from "../../server/plans/plans.server";
import { NotFetched } from "../../ui/NotFetched";
import { Lanes } from "./Lanes";
import { PlanFigures } from "./PlanFigures";
import { mostTests } from "./planDraft";
import { usePlanDraft } from "./usePlanDraft";
import { usePlanner } from "./usePlanner";

/** Choosing the tests: the plan is drawn as one goes, and started when it pleases. */
export function DraftPlan({ methods, sites }: PlanChoice) {
  const { draft, known, change, again } = usePlanDraft();
  const [method, setMethod] = useState("");
  const [site, setSite] = useState(sites[0]?.id ?? "");
  const { tests, people, align } = draft;
  const jobs = useMemo(() => {
    const seen = new Map<string, number>();
    return tests
      .flatMap((test) => {
        const of = methods.find((m) => m.id === test.method);
        const water = sites.find((s) => s.id === test.site);
        if (!of || !water) return [];
        const times = (seen.get(`${of.id} ${water.id}`) ?? 0) + 1;
        seen.set(`${of.id} ${water.id}`, times);
        return [{ of, test, sample: times > 1 ? `${water.name}, bottle ${times}` : water.name }];
      })
      .sort((a, b) => byPerishability(a.of, b.of))
      .flatMap(({ of, test, sample }) => jobsOf(of, sample, test.run));
  }, [tests, methods, sites]);
  const { plan, busy, askAgain } = usePlanner(jobs, people, align);
  const starting = useFetcher<{ message: string }>();

  const start = () => {
    if (!plan) return;
    const { starts, person, stretch_s, proved } = plan.planned;
    const started: BenchPlan = {
      id: draft.id,
      tests,
      people: plan.people,
      align: plan.align,
      planned_at: Date.now(),
      revision: 0,
      jobs: plan.jobs.map((job) => ({ ...job, parts: [...job.parts] })),
      starts,
      person,
      stretch_s: Math.max(0, stretch_s),
      proved,
      trouble: null,
    };
    void starting.submit({ intent: "start", plan: JSON.stringify(started) }, { method: "post" });
  };
  return (
    <>
      {again && <NotFetched again={again} />}
      <div className="sheet">
        <form
          className="plan-choice"
          onSubmit={(event) => {
            event.preventDefault();
            if (method && tests.length < mostTests)
              change({ tests: [...tests, { run: ulid(), method, site }] });
          }}
        >
          <div className="field">
            <label htmlFor="plan-method">Method</label>
            <Select
              id="plan-method"
              size="large"
              showSearch
              optionFilterProp="label"
              placeholder="Choose one"
              value={method || null}
              options={methods.map((m) => ({ value: m.id, label: m.name }))}
              onChange={(id: string) => setMethod(id)}
            />
          </div>
          <div className="field">
            <label htmlFor="plan-water">Water</label>
            <Select
              id="plan-water"
              size="large"
              showSearch
              optionFilterProp="label"
              value={site || null}
              options={sites.map((s) => ({ value: s.id, label: s.name }))}
              onChange={(id: string) => setSite(id)}
            />
          </div>
          <button
            type="submit"
            className="calm strong"
            disabled={!known || !method || tests.length >= mostTests}
          >
            Add it
          </button>
        </form>
        {tests.length >= mostTests && <p className="quiet small">Twenty tests are what one plan holds.</p>}
        {tests.length > 0 && (
          <ul className="list runs-list" aria-label="The tests">
            {tests.map((test) => {
              const of = methods.find((m) => m.id === test.method);
              const name = of?.name ?? "a method that is gone";
              const water = sites.find((s) => s.id === test.site)?.name ?? "a site that is gone";
              return (
                <li key={test.run}>
                  <span className="name">{name}</span>
                  <span className="quiet">
                    {water}
                    {(of?.replicates.length ?? 1) > 1 && `, ${of?.replicates.length} replicates`}
                  </span>
                  <button
                    type="button"
                    className="calm out"
                    aria-label={`Take out ${name}, ${water}`}
                    onClick={() => change({ tests: tests.filter((t) => t.run !== test.run) })}
                  >
                    Take out
                  </button>
                </li>
              );
            })}
          </ul>
        )}
        <fieldset className="choices" aria-label="How">
          {([1, 2] as const).map((count) => (
            <button
              key={count}
              type="button"
              className={people === count ? "calm strong" : "calm"}
              aria-pressed={people === count}
              onClick={() => change({ people: count })}
            >
              {count === 1 ? "One person" : "Two people"}
            </button>
          ))}
          {(["earliest", "together"] as const).map((way) => (
            <button
              key={way}
              type="button"
              className={align === way ? "calm strong" : "calm"}
              aria-pressed={align === way}
              onClick={() => change({ align: way })}
            >
              {way === "earliest" ? "Each result as soon as possible" : "Read side by side at the end"}
            </button>
          ))}
        </fieldset>
      </div>
      {jobs.length === 0 && (
        <p className="empty">Add the tests you want to do; the plan is drawn as you go.</p>
      )}
      {busy && (
        <p className="quiet" role="status">
          Planning …
        </p>
      )}
      {askAgain && <NotFetched again={askAgain} />}
      {plan && (
        <>
          <PlanFigures {...plan.planned} />
          <Lanes
            jobs={plan.jobs}
            starts={plan.planned.starts}
            person={plan.planned.person}
            people={plan.people}
            makespan_s={plan.planned.makespan_s}
            since={null}
          />
          {starting.data && (
            <p className="wrong" role="alert">
              {starting.data.message}
            </p>
          )}
          <div className="actions">
            <button
              type="button"
              className="act"
              onClick={start}
              disabled={busy || starting.state !== "idle"}
            >
              Start the plan
            </button>
            <button type="button" className="calm" onClick={() => window.print()}>
              Print as a bench card
            </button>
          </div>
        </>
      )}
    </>
  );
}

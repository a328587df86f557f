import "../../shared/bench/bench.css";
import "./runs.css";
import { Select } from "antd";
import { startTransition, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useLoaderData } from "react-router";
import { z } from "zod";
import { duration } from "../../../core/analysis/timing";
import { byPerishability, jobsOf } from "../../../core/planner/fromMethod";
import { type Job, opsOf } from "../../../core/planner/job";
import type { Planned } from "../../../core/planner/planner";
import { formatNumber } from "../../../core/quantity/format";
import { dbContext } from "../../server/contexts.server";
import { listMethods } from "../../server/methods.server";
import { listSites } from "../../server/sites.server";
import { showSeconds } from "../../shared/time";
import { useNow } from "../../shared/useNow";
import type { PlannerAnswer } from "../../workers/planner.worker";
import type { Route } from "./+types/plan";
import { Lanes } from "./Lanes";

export const meta: Route.MetaFunction = () => [{ title: "Plan · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const [methods, sites] = await Promise.all([listMethods(db), listSites(db)]);
  return {
    methods: methods.map((m) => m.method).filter((m) => m.measure.technique !== "meter"),
    sites: sites.map(({ id, name }) => ({ id, name })),
    now: Date.now(),
  };
}

/** What is kept in this browser, so that a reload loses nothing. */
const draftSchema = z.object({
  rows: z.array(z.object({ key: z.string(), method: z.string(), site: z.string() })).max(20),
  people: z.union([z.literal(1), z.literal(2)]),
  align: z.enum(["earliest", "together"]),
  started_at: z.number().nullable(),
  begun: z.record(z.string(), z.number()),
});
type Draft = z.infer<typeof draftSchema>;
const empty: Draft = { rows: [], people: 1, align: "earliest", started_at: null, begun: {} };
const draftKey = "brintel:plan";

export default function PlanPage() {
  const { methods, sites, now: serverNow } = useLoaderData<typeof loader>();
  const [draft, setDraft] = useState<Draft>(empty);
  const [plan, setPlan] = useState<{ jobs: Job[]; planned: Planned | null; took_ms: number } | null>(null);
  const [busy, setBusy] = useState(false);
  const now = useNow(serverNow);
  useEffect(() => {
    try {
      const kept = draftSchema.parse(JSON.parse(localStorage.getItem(draftKey) ?? ""));
      startTransition(() => setDraft(kept));
    } catch {
      // Nothing is kept, or by an older version: begin anew.
    }
  }, []);
  const change = useCallback((part: Partial<Draft>) => {
    setDraft((before) => {
      const after = { ...before, ...part };
      localStorage.setItem(draftKey, JSON.stringify(after));
      return after;
    });
  }, []);
  const { rows, people, align, started_at, begun } = draft;
  const jobs = useMemo(() => {
    const chosen = rows
      .flatMap((row) => {
        const method = methods.find((m) => m.id === row.method);
        return method ? [{ method, row }] : [];
      })
      .sort((a, b) => byPerishability(a.method, b.method));
    return chosen.flatMap(({ method, row }) =>
      jobsOf(method, sites.find((s) => s.id === row.site)?.name ?? "sample"),
    );
  }, [rows, methods, sites]);

  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  useEffect(() => () => worker.current?.terminate(), []);
  const ask = useCallback(
    (list: Job[]) => {
      // A question that has been overtaken need not be answered.
      worker.current?.terminate();
      if (list.length === 0) {
        setPlan(null);
        setBusy(false);
        return;
      }
      worker.current = new Worker(new URL("../../workers/planner.worker.ts", import.meta.url), {
        type: "module",
      });
      asked.current++;
      setBusy(true);
      worker.current.onmessage = ({ data }: MessageEvent<PlannerAnswer>) => {
        if (data.id !== asked.current) return;
        // Forty lanes are drawn in slices, so that the page never hangs.
        startTransition(() => {
          setPlan({ jobs: list, planned: data.plan, took_ms: data.took_ms });
          setBusy(false);
        });
      };
      worker.current.postMessage({ id: asked.current, jobs: list, people, align });
    },
    [people, align],
  );
  // Once it runs, a plan changes only when it is asked to: what was begun stays where it is.
  useEffect(() => {
    if (started_at === null) ask(jobs);
  }, [jobs, ask, started_at]);

  const elapsed = started_at === null ? 0 : (now - started_at) / 1000;
  const replan = () => {
    if (started_at === null || !plan?.planned) return;
    const at = (Date.now() - started_at) / 1000;
    const { planned } = plan;
    const rest = plan.jobs.flatMap((job, j): Job[] => {
      const ops = opsOf(job);
      const own = begun[job.name];
      if (own === undefined) return [{ ...job, release_s: 0, due_s: null }];
      // What was begun keeps its person and its clocks, from the moment it was really begun.
      const shift = own - (planned.starts[j]?.[0] ?? 0);
      const k = ops.findIndex((op, i) => (planned.starts[j]?.[i] ?? 0) + shift + op.seconds > at);
      if (k < 0) return [];
      const left = Math.max(0, (planned.starts[j]?.[k] ?? 0) + shift - at);
      const parts = ops.slice(k).flatMap((op, i): Job["parts"][number][] => [
        ...(i > 0
          ? [
              {
                kind: "wait" as const,
                min_s: op.min_lag,
                max_s: Number.isFinite(op.max_lag) ? op.max_lag : null,
              },
            ]
          : []),
        { kind: "hands", seconds: op.seconds, ...(op.equipment[0] ? { equipment: op.equipment[0] } : {}) },
      ]);
      return [{ name: job.name, parts, release_s: left, due_s: null, person: planned.person[j] ?? 0 }];
    });
    change({ started_at: Date.now(), begun: {} });
    ask(rest);
  };
  const next = plan?.planned
    ? plan.jobs
        .map((job, j) => ({ job, at: plan.planned?.starts[j]?.[0] ?? 0, who: plan.planned?.person[j] ?? 0 }))
        .filter(({ job }) => begun[job.name] === undefined)
        .sort((a, b) => a.at - b.at)
    : [];
  const late = started_at !== null && next[0] !== undefined && elapsed > next[0].at + 30;
  return (
    <main>
      <h1>Plan several tests</h1>
      <p className="sub">
        Exact waits are kept, hands never overlap, and what keeps least is done first where it costs nothing.
      </p>
      <div className="sheet">
        <div className="plan-choice">
          <Select
            aria-label="Add a method"
            showSearch
            size="large"
            placeholder="Add a method"
            value={null}
            optionFilterProp="label"
            options={methods.map((m) => ({ value: m.id, label: m.name }))}
            onChange={(method: string | null) => {
              if (method && rows.length < 20)
                change({
                  rows: [...rows, { key: crypto.randomUUID(), method, site: sites[0]?.id ?? "" }],
                  started_at: null,
                  begun: {},
                });
            }}
          />
          <span className="quiet m">{jobs.length} jobs</span>
        </div>
        <ul className="list runs-list">
          {rows.map((row) => (
            <li key={row.key}>
              <span className="name">
                {methods.find((m) => m.id === row.method)?.name ?? "a method that is gone"}
              </span>
              <select
                aria-label="Of which water"
                className="plain-select"
                value={row.site}
                onChange={(e) =>
                  change({
                    rows: rows.map((r) => (r.key === row.key ? { ...r, site: e.target.value } : r)),
                  })
                }
              >
                {sites.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </select>
              <button
                type="button"
                className="calm"
                aria-label="Take it out"
                onClick={() =>
                  change({ rows: rows.filter((r) => r.key !== row.key), started_at: null, begun: {} })
                }
              >
                ×
              </button>
            </li>
          ))}
        </ul>
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
      {busy && <p className="quiet">Planning …</p>}
      {plan && !plan.planned && (
        <p className="wrong" role="alert">
          What is under way can no longer be kept apart. Finish the read that is due, then plan again.
        </p>
      )}
      {plan?.planned && (
        <>
          <div className="resultline plan-figures">
            <div className="figure">
              <b className="lead">{showSeconds(plan.planned.makespan_s)}</b>
              <span>to the last reading</span>
            </div>
            <div className="figure">
              <b>{showSeconds(plan.planned.serial_s)}</b>
              <span>one after another</span>
            </div>
            <div className="figure">
              <b>{formatNumber((1 - plan.planned.makespan_s / plan.planned.serial_s) * 100, 0)} %</b>
              <span>saved</span>
            </div>
            <div className="figure">
              <b>{showSeconds(plan.planned.lower_bound_s)}</b>
              <span>
                {plan.planned.proved ? "can never be less; this plan is proved best" : "can never be less"}
              </span>
            </div>
          </div>
          <Lanes jobs={plan.jobs} plan={plan.planned} at={started_at === null ? null : elapsed} />
          <div className="actions">
            {started_at === null ? (
              <button
                type="button"
                className="act"
                onClick={() => change({ started_at: Date.now(), begun: {} })}
              >
                Start the plan
              </button>
            ) : (
              <button type="button" className={late ? "act" : "calm strong"} onClick={replan}>
                Plan again from now
              </button>
            )}
            <button type="button" className="calm" onClick={() => window.print()}>
              Print as a bench card
            </button>
          </div>
          {started_at !== null && (
            <ol className="list runs-list" aria-label="What to begin, and when">
              {next.map(({ job, at, who }) => {
                const left = at - elapsed;
                const row = rows.find((r) =>
                  job.name.startsWith(methods.find((m) => m.id === r.method)?.name ?? "\u0000"),
                );
                return (
                  <li key={job.name}>
                    <b className="m">{left > 0 ? showSeconds(left) : `+${showSeconds(-left)}`}</b>
                    <span className="name">{job.name}</span>
                    {people > 1 && <span className="quiet">person {who + 1}</span>}
                    {row && (
                      <Link
                        className="calm strong"
                        to={`/runs/new/${row.method}?site=${row.site}`}
                        onClick={() => change({ begun: { ...begun, [job.name]: elapsed } })}
                      >
                        Begin
                      </Link>
                    )}
                  </li>
                );
              })}
            </ol>
          )}
          {plan.planned.stretch_s > 0 && (
            <p className="quiet small">
              Waits that may last are {duration(plan.planned.stretch_s)} longer than they need to be, in all.
            </p>
          )}
        </>
      )}
    </main>
  );
}

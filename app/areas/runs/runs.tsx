import { showTime } from "../../../core/time/words";
import "../../styles/picks.css";
import { Segmented } from "antd";
import { useState } from "react";
import { Link, useLoaderData } from "react-router";
import type { Technique } from "../../../core/methods/method";
import { minutesOf, rangeWords, techniqueWords } from "../../../core/methods/methodWords";
import { nextOfPlan } from "../../server/plans/plans.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { allMethods } from "../../server/runs/methods.server";
import { type RecentRun, recentMethods, recentRuns } from "../../server/runs/runs.server";
import { Formula } from "../../ui/Formula";
import { OutOfUseList } from "../../ui/OutOfUse";
import { PickGroups } from "../../ui/PickGroups";
import { Search } from "../../ui/Search";
import type { Route } from "./+types/runs";

export const meta: Route.MetaFunction = () => [{ title: "Runs · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const [methods, runs, recent, plan, { rules }] = await Promise.all([
    allMethods(db),
    recentRuns(db),
    recentMethods(db),
    nextOfPlan(db),
    rulesInForce(db),
  ]);
  return {
    runs,
    recent,
    plan: plan.map(({ id, href, title, words }) => ({ id, href, title, words })),
    zone: rules.zone,
    gone: methods.flatMap(({ method: { id, name }, out_of_use: out }) =>
      out ? [{ href: `/methods/${id}`, name, out }] : [],
    ),
    methods: methods
      .filter((m) => m.out_of_use === null)
      .map(({ method, origin }) => ({
        id: method.id,
        name: method.name,
        origin,
        technique: method.measure.technique,
        analyte: method.result.analyte,
        range: rangeWords(method),
        minutes: minutesOf(method),
      })),
  };
}
type Choice = ReturnType<typeof useLoaderData<typeof loader>>["methods"][number];

/** How people speak of the ways to measure, and which techniques each takes in. */
const ways: Record<string, readonly Technique[]> = {
  Photometer: ["photometer", "photometer-curve"],
  Colour: ["comparator", "visual"],
  Strip: ["strip", "capillary"],
  Titration: ["burette", "syringe", "drops", "digits", "ph-endpoint"],
  Meter: ["meter"],
};
const everyWay = "Every way";

export default function Runs() {
  const { methods, gone, runs, recent, plan, zone } = useLoaderData<typeof loader>();
  const [text, setText] = useState("");
  const [way, setWay] = useState(everyWay);
  const wanted = text.trim().toLowerCase();
  const found = methods.filter(
    (m) =>
      (way === everyWay || ways[way]?.includes(m.technique)) &&
      `${m.name} ${m.analyte} ${techniqueWords[m.technique]}`.toLowerCase().includes(wanted),
  );
  const groups = [...new Set(found.map((m) => m.analyte))].sort();
  const late = recent.flatMap((id) => methods.find((m) => m.id === id) ?? []);
  const open = runs.filter((r) => r.status === "open");
  const done = runs.filter((r) => r.status !== "open").slice(0, 6);
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Run a method</h1>
          <p className="sub">Choose one and Brintel leads you through it, clock and arithmetic included.</p>
        </div>
        <Link to="/runs/plan" className="calm strong">
          Plan several at once
        </Link>
      </div>
      {plan.length > 0 && (
        <section className="stack close" aria-label="Planned">
          <h2>Planned</h2>
          <ul className="picks">
            {plan.map((p) => (
              <li key={p.id}>
                <Link to={p.href} className="pick">
                  <b>{p.title}</b>
                  <span className="quiet small">{p.words}</span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      {open.length > 0 && <RunList title="Open now" runs={open} zone={zone} />}
      {late.length > 0 && (
        <section className="stack close" aria-label="Run lately">
          <h2>Again</h2>
          <MethodList methods={late} />
        </section>
      )}
      <section className="stack close" aria-label="All methods">
        <h2>By what is measured</h2>
        <div className="cluster">
          <Search
            label="Find a method"
            example="Oxygen, nitrate, strip, burette …"
            value={text}
            onChange={setText}
          />
          <Segmented
            className="ways"
            aria-label="How it is measured"
            options={[everyWay, ...Object.keys(ways)]}
            value={way}
            onChange={setWay}
          />
        </div>
        {groups.length === 0 && <p className="empty">No method is called that. Try what it measures.</p>}
        <PickGroups
          heading="h3"
          groups={groups.map((analyte) => {
            const methods = found.filter((m) => m.analyte === analyte);
            return { title: analyte, cards: methods.length, list: <MethodList methods={methods} /> };
          })}
        />
      </section>
      <OutOfUseList title="No longer run here" entries={gone} zone={zone} />
      {done.length > 0 && <RunList title="Done lately" runs={done} zone={zone} />}
    </main>
  );
}

function MethodList({ methods }: { methods: readonly Choice[] }) {
  return (
    <ul className="picks">
      {methods.map((m) => (
        <li key={m.id}>
          <Link to={m.technique === "meter" ? "/meters" : `/runs/new/${m.id}`} className="pick">
            <b>{m.name}</b>
            <span className="quiet small">
              {techniqueWords[m.technique]}
              {m.origin === "own" ? " · your own" : ""} · {m.minutes} min
            </span>
            <span className="quiet small">
              <Formula>{m.range}</Formula>
            </span>
          </Link>
          <Link to={`/methods/${m.id}`} className="calm" aria-label={`The card of ${m.name}`}>
            Card
          </Link>
        </li>
      ))}
    </ul>
  );
}

function RunList({ title, runs, zone }: { title: string; runs: readonly RecentRun[]; zone: string }) {
  return (
    <section className="stack close" aria-label={title}>
      <h2>{title}</h2>
      <ul className="picks">
        {runs.map((run) => (
          <li key={run.id}>
            <Link to={`/runs/${run.id}`} className="pick">
              <b>{run.title}</b>
              <span className="quiet small">
                {run.site}, {run.status === "open" ? "since " : ""}
                {showTime(run.started_at, zone, run.status === "open" ? "clock" : "both")}
                {run.status === "abandoned" ? ", given up" : ""}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

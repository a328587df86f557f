import { showTime } from "../../../core/time/words";
import "./runs.css";
import { Input } from "antd";
import { useState } from "react";
import { Link, useLoaderData } from "react-router";
import { techniqueWords } from "../../../core/analysis/method";
import { listMethods } from "../../server/methods.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules.server";
import { recentRuns } from "../../server/runs.server";

import type { Route } from "./+types/runs";

export const meta: Route.MetaFunction = () => [{ title: "Runs · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const [methods, runs, { rules }] = await Promise.all([listMethods(db), recentRuns(db), rulesInForce(db)]);
  return {
    runs,
    zone: rules.zone,
    methods: methods.map(({ method, origin }) => ({
      id: method.id,
      name: method.name,
      origin,
      technique: method.measure.technique,
      analyte: method.result.analyte,
      range:
        method.measure.technique === "strip" && method.measure.pads.length > 1
          ? method.measure.pads.map((p) => p.analyte.toLowerCase()).join(", ")
          : `${method.range.low} – ${method.range.high} ${method.result.unit}${method.result.species === method.result.unit ? "" : ` as ${method.result.species}`}`,
      minutes: Math.ceil(
        method.steps.reduce((sum, s) => sum + (s.kind === "wait" ? s.seconds : s.hands_s), 0) / 60,
      ),
    })),
  };
}

export default function Runs() {
  const { methods, runs, zone } = useLoaderData<typeof loader>();
  const [text, setText] = useState("");
  const wanted = text.trim().toLowerCase();
  const found = methods.filter((m) =>
    `${m.name} ${m.analyte} ${techniqueWords[m.technique]}`.toLowerCase().includes(wanted),
  );
  const groups = [...new Set(found.map((m) => m.analyte))].sort();
  const open = runs.filter((r) => r.status === "open");
  const done = runs.filter((r) => r.status !== "open").slice(0, 6);
  return (
    <main>
      <div className="pagehead">
        <div>
          <h1>Run a method</h1>
          <p className="sub">Choose one and Brintel leads you through it, clock and arithmetic included.</p>
        </div>
        <Link to="/runs/plan" className="calm strong">
          Plan several at once
        </Link>
      </div>
      {open.length > 0 && (
        <>
          <h2>Open now</h2>
          <ul className="list runs-list">
            {open.map((run) => (
              <li key={run.id}>
                <Link to={`/runs/${run.id}`} className="name">
                  {run.title}
                </Link>
                <span className="quiet">
                  {run.site}, since {showTime(run.started_at, zone)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="method-search">
        <Input
          aria-label="Find a method"
          size="large"
          placeholder="Oxygen, nitrate, strip, burette …"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </div>
      {groups.length === 0 && <p className="empty">No method is called that. Try what it measures.</p>}
      {groups.map((analyte) => (
        <section key={analyte} aria-label={analyte}>
          <h2>{analyte}</h2>
          <ul className="list methods">
            {found
              .filter((m) => m.analyte === analyte)
              .map((m) => (
                <li key={m.id}>
                  <div className="method-name">
                    <Link to={m.technique === "meter" ? "/meters" : `/runs/new/${m.id}`} className="name">
                      {m.name}
                    </Link>
                    <div className="quiet small">
                      {techniqueWords[m.technique]}
                      {m.origin === "own" ? " · your own" : ""}
                    </div>
                  </div>
                  <span className="m method-range">{m.range}</span>
                  <span className="m quiet">{m.minutes} min</span>
                  <Link to={`/methods/${m.id}`} className="calm" aria-label={`The card of ${m.name}`}>
                    Card
                  </Link>
                </li>
              ))}
          </ul>
        </section>
      ))}
      {done.length > 0 && (
        <>
          <h2>Done lately</h2>
          <ul className="list runs-list">
            {done.map((run) => (
              <li key={run.id}>
                <Link to={`/runs/${run.id}`} className="name">
                  {run.title}
                </Link>
                <span className="quiet">
                  {run.site}, {showTime(run.started_at, zone, "both")}
                  {run.status === "abandoned" ? ", given up" : ""}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </main>
  );
}

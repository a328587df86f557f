import "../../styles/picks.css";
import { useSyncExternalStore } from "react";
import { Link, useLoaderData } from "react-router";
import { minutesOf, techniqueWords } from "../../../core/methods/methodWords";
import { canPractise } from "../../../core/simulation/practiceRun";
import { showTime } from "../../../core/time/words";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { listMethods } from "../../server/runs/methods.server";
import { Formula } from "../../ui/Formula";
import { PickGroups } from "../../ui/PickGroups";
import type { Route } from "./+types/practiceList";
import { onPractice, practisedBy } from "./practiceStore";

export const meta: Route.MetaFunction = () => [{ title: "Practice · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const [methods, { rules }] = [await listMethods(db), await rulesInForce(db)];
  return {
    by: context.get(personContext).id,
    zone: rules.zone,
    methods: methods
      .filter(({ method }) => canPractise(method))
      .map(({ method }) => ({
        id: method.id,
        name: method.name,
        technique: method.measure.technique,
        minutes: minutesOf(method),
      })),
  };
}
type Loaded = ReturnType<typeof useLoaderData<typeof loader>>;

/** How people speak of what hands and eyes learn. */
const kinds: { title: string; of: readonly Loaded["methods"][number]["technique"][] }[] = [
  { title: "End points", of: ["drops", "burette", "syringe", "digits", "ph-endpoint"] },
  { title: "Colours", of: ["comparator", "strip", "capillary"] },
  { title: "Displays", of: ["photometer", "photometer-curve"] },
  { title: "Looking through water", of: ["visual"] },
];

/** Every method that can be tried with made-up water, and how it went last in this browser. */
export default function PracticeList() {
  const { methods, by, zone } = useLoaderData<typeof loader>();
  // What the browser keeps is read as one text, so that the page is drawn anew only where it changed.
  const lately = useSyncExternalStore(
    onPractice,
    () => JSON.stringify(latelyOf(by)),
    () => "[]",
  );
  const practised = JSON.parse(lately) as ReturnType<typeof latelyOf>;
  const open = practised.filter((p) => p.outcome === null && methods.some((m) => m.id === p.method));
  return (
    <main className="stack">
      <div>
        <h1>Practice</h1>
        <p className="sub">
          Try a method with made-up water before it counts: every step and clock, the colour as it turns, and
          at the end what the water held. It stays in this browser and never comes into the records.
        </p>
      </div>
      {open.length > 0 && (
        <section className="stack close" aria-label="Open now">
          <h2>Open now</h2>
          <ul className="picks">
            {open.map((p) => (
              <li key={p.id}>
                <Link to={`/practice/${p.method}/${p.id}`} className="pick">
                  <b>{methods.find((m) => m.id === p.method)?.name}</b>
                  <span className="quiet small">begun, last touched {showTime(p.at, zone, "both")}</span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      <PickGroups
        heading="h2"
        groups={kinds.flatMap(({ title, of }) => {
          const own = methods.filter((m) => of.includes(m.technique));
          return own.length === 0
            ? []
            : [
                {
                  title,
                  cards: own.length,
                  list: (
                    <ul className="picks">
                      {own.map((m) => {
                        const last = practised.find((p) => p.method === m.id && p.outcome !== null);
                        return (
                          <li key={m.id}>
                            <Link to={`/practice/${m.id}`} className="pick">
                              <b>{m.name}</b>
                              <span className="quiet small">
                                {techniqueWords[m.technique]} · {m.minutes} min
                              </span>
                              {last?.outcome && (
                                <span className="small">
                                  {showTime(last.at, zone, "day")}: <Formula>{last.outcome}</Formula>
                                </span>
                              )}
                            </Link>
                          </li>
                        );
                      })}
                    </ul>
                  ),
                },
              ];
        })}
      />
    </main>
  );
}

const latelyOf = (by: string) =>
  practisedBy(by).map(({ id, method, at, outcome }) => ({ id, method, at, outcome }));

import "../../ui/bench/bench.css";
import "./runs.css";
import { useMemo } from "react";
import { redirect, type ShouldRevalidateFunctionArgs, useLoaderData } from "react-router";
import { decodeTime, isValid, ulid } from "ulid";
import { canPractise, practiceStart } from "../../../core/simulation/practiceRun";
import { practiceWater } from "../../../core/simulation/practiceWater";
import { nowMs } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { findMethod } from "../../server/runs/methods.server";
import { useWakeLock } from "../../ui/bench/useWakeLock";
import { InBrowser } from "../../ui/charts/InBrowser";
import { lazyPart } from "../../ui/lazyPart";
import type { Route } from "./+types/practiceRun";
import { PracticeContext, VesselContext } from "./practice";
import { RunBench } from "./RunBench";
import { usePracticeBench } from "./usePracticeBench";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData ? `Practise: ${loaderData.method.name}` : "Practice"} · Brintel` },
];

/** The latest moment that an id can bear and a date can show is far off; nobody practises then. */
const latest_ms = Date.parse("2200-01-01T00:00:00Z");

/** The method and the rules; what is done stays in the browser. An address without water gets some. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await findMethod(db, params.methodId);
  if (!stored || stored.out_of_use || !canPractise(stored.method))
    throw new Response("No method to practise", { status: 404 });
  const { water } = params;
  if (water === undefined) throw redirect(`/practice/${params.methodId}/${ulid(nowMs())}`);
  if (!isValid(water) || decodeTime(water) > latest_ms) throw new Response("No such water", { status: 404 });
  const { rules } = await rulesInForce(db);
  return { method: stored.method, water, rules, by: context.get(personContext).id, now: nowMs() };
}

/** Nothing that happens here changes what the server has. */
export const shouldRevalidate = ({ currentUrl, nextUrl }: ShouldRevalidateFunctionArgs) =>
  currentUrl.pathname !== nextUrl.pathname;

const PracticeReport = lazyPart(() => import("./PracticeReport"));

export default function PracticeRun() {
  const loaded = useLoaderData<typeof loader>();
  return <Practised key={loaded.water} {...loaded} />;
}

function Practised({ method, water: id, rules, by, now }: ReturnType<typeof useLoaderData<typeof loader>>) {
  const started = useMemo(
    () => practiceStart(method, rules, { id, at: new Date(decodeTime(id)).toISOString(), by }),
    [method, rules, id, by],
  );
  const water = useMemo(() => practiceWater(method, id), [method, id]);
  const { bench, vessel, later_ms, conclude } = usePracticeBench(started, water);
  useWakeLock();
  const { state } = bench;
  if (!state) throw new Error("A practised run without a beginning.");
  if (state.status !== "open")
    return (
      <InBrowser>
        <PracticeReport state={state} water={water} rules={rules} conclude={conclude} />
      </InBrowser>
    );
  return (
    <PracticeContext value={true}>
      <VesselContext value={vessel}>
        <RunBench
          seed={id}
          loadedAt={now}
          later_ms={later_ms}
          rules={rules}
          bench={bench}
          state={state}
          said={
            <p className="note">
              <span>
                <b>Practice.</b> The water is made up, and what it holds is told at the end. It stays in this
                browser and never comes into the records.
              </span>
            </p>
          }
        />
      </VesselContext>
    </PracticeContext>
  );
}

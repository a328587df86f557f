import "../../ui/bench/bench.css";
import "./calculator.css";
import { useState } from "react";
import { Link, useLoaderData } from "react-router";
import { formatOwnDigits } from "../../../core/quantity/format";
import { showPistons } from "../../../core/rules/pistons";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { type OverRange, overRangeRun } from "../../server/runs/overRange.server";
import { InBrowser } from "../../ui/charts/InBrowser";
import { DueMark } from "../../ui/DueMark";
import { lazyPart } from "../../ui/lazyPart";
import { NotFetched } from "../../ui/NotFetched";
import { NumberEntry } from "../../ui/NumberEntry";
import { Pieces } from "../../ui/Pieces";
import { TypedField } from "../../ui/TypedField";
import type { Route } from "./+types/planner";
import { PlansTable, RunItDiluted, Series, Steps } from "./PlanResults";
import { type Field, numberOf, readQuestion, type Wrong } from "./plannerQuestion";
import { useDilutions } from "./useDilutions";

const PlansChart = lazyPart(() => import("./PlansChart"));

export const meta: Route.MetaFunction = () => [{ title: "Dilution planner · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const run = url.searchParams.get("run");
  const asked = (name: string) => url.searchParams.get(name) ?? "";
  const { solutions } = (await rulesInForce(context.get(dbContext))).rules;
  return {
    glassware: solutions,
    run: run ? await overRangeRun(context.get(dbContext), run) : null,
    asked: { stock: asked("stock"), targets: asked("targets"), volume: asked("volume") },
  };
}

/** What is proposed for a run that was over range. */
const proposed = (run: OverRange) => ({
  stock: formatOwnDigits(run.about),
  targets: formatOwnDigits(run.target),
  volume: formatOwnDigits(run.volume_ml),
});

/** Plans dilutions with the glassware that is there, the least uncertain first; a series of levels as a whole. */
export default function Planner() {
  const { run, asked, glassware } = useLoaderData<typeof loader>();
  const begun = run ? proposed(run) : { stock: "1000", targets: "2.5", volume: "100" };
  const [texts, setTexts] = useState<Record<Field, string>>({
    stock: asked.stock || begun.stock,
    targets: asked.targets || begun.targets,
    volume: asked.volume || begun.volume,
    stock_u: "0",
    available: "",
    smallest: "",
  });
  // What the house has; a piece that is broken or dirty today is left out of this plan alone.
  const [pipettes, setPipettes] = useState(glassware.pipettes_ml);
  const [flasks, setFlasks] = useState(glassware.flasks_ml);
  const { found, share, ask, stop, again } = useDilutions();
  const unit = run?.unit ?? "";
  // What the plan was made for: it stays with it while the fields change, and on paper.
  const [wanted, setWanted] = useState("");
  const [chosen, setChosen] = useState(0);
  const [wrong, setWrong] = useState<Wrong>({});
  const set = (name: Field) => (text: string) => setTexts((all) => ({ ...all, [name]: text }));
  const plan = () => {
    const read = readQuestion(texts, { pipettes, flasks, pistons: glassware.pistons });
    if (read.wrong) return setWrong(read.wrong);
    setWrong({});
    setChosen(0);
    const { stock, targets, volume } = texts;
    setWanted(`From ${stock} to ${targets} ${unit}`.trimEnd().concat(`, ${volume} mL at least.`));
    const address = new URLSearchParams({ ...(run ? { run: run.id } : {}), stock, targets, volume });
    window.history.replaceState(window.history.state, "", `?${address}`);
    ask(read.question);
  };
  const plans = found?.is === "dilution" ? found.plans : [];
  const best = plans[chosen] ?? plans[0];
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Dilution planner</h1>
          <p className="sub">
            {run
              ? `${run.method.name}, sample ${run.sample}: more than ${formatOwnDigits(run.high * run.dilution)} ${run.unit}.`
              : "Which pipettes and flasks bring a stock to a target with the least uncertainty."}
          </p>
        </div>
        <Link to={run ? `/runs/${run.id}` : "/solutions"} className="calm no-print">
          {run ? "Back to the run" : "All calculators"}
        </Link>
      </div>
      <div className="calculator">
        <form
          className="sheet stack"
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            plan();
          }}
        >
          <div className="two">
            <Entry
              name="stock"
              label={run ? `About what is in it, ${unit}` : "Strength of the stock"}
              {...{ texts, set, wrong }}
            />
            <TypedField
              label={run ? `Wanted in the vial, ${unit}` : "Strength wanted"}
              hint={run ? undefined : "Several with ; between them are a series."}
              value={texts.targets}
              onChange={set("targets")}
              wrong={wrong.targets}
              mono
            />
          </div>
          <div className="two">
            <Entry name="volume" label="Volume needed, mL" {...{ texts, set, wrong }} />
            <Entry
              name="stock_u"
              label="Stock uncertainty, %"
              hint="Relative standard uncertainty."
              {...{ texts, set, wrong }}
            />
          </div>
          <div className="two">
            <Entry name="available" label="Stock at hand, mL" {...{ texts, set, wrong }} />
            <Entry name="smallest" label="Least you pipette, mL" {...{ texts, set, wrong }} />
          </div>
          <Pieces
            title="Pipettes, class A, mL"
            all={glassware.pipettes_ml}
            chosen={pipettes}
            onChoose={setPipettes}
          />
          <Pieces
            title="Flasks, class A, mL"
            all={glassware.flasks_ml}
            chosen={flasks}
            onChoose={setFlasks}
          />
          <p className="quiet small">
            {glassware.pistons.length > 0 && `Piston pipettes: ${showPistons(glassware.pistons)}. `}
            What stands in the cupboard is kept in the{" "}
            <Link to="/rules#rules-solutions-and-stock">house rules</Link>.
          </p>
          {wrong.glass && (
            <p className="wrong" role="alert">
              {wrong.glass}
            </p>
          )}
          <div className="cluster">
            <button type="submit" className="act small">
              Plan it <kbd>enter</kbd>
            </button>
            {share !== null && (
              <>
                <progress max={1} value={share} aria-label="How far the search is" />
                <button type="button" className="calm" onClick={stop}>
                  Stop
                </button>
              </>
            )}
          </div>
        </form>
        <section className="sheet stack close result" aria-label="The plan" aria-live="polite">
          {again && <NotFetched again={again} />}
          {!found && <p className="quiet">Say what is wanted, and leave out what is not clean.</p>}
          {found && <p className="quiet">{wanted}</p>}
          {found?.is === "dilution" && !best && (
            <p className="note">
              <DueMark /> These pieces do not get there in three steps of at most a hundred times each.
            </p>
          )}
          {found?.is === "dilution" && best && (
            <>
              <Steps plan={best} unit={unit} />
              {!found.exact && (
                <p className="note">
                  <DueMark /> Exactly that cannot be made of these pieces: this comes nearest.
                </p>
              )}
              {run && <RunItDiluted run={run} factor={numberOf(texts.stock) / best.concentration} />}
            </>
          )}
          {found?.is === "series" && <Series plan={found.plan} />}
          {found && (
            <div className="cluster no-print">
              <button type="button" className="calm" onClick={() => window.print()}>
                Print as a bench sheet
              </button>
            </div>
          )}
          <p className="quiet small">
            Source: class A tolerances of ASTM E969 and E288 as triangles; relative uncertainties add as
            squares.
          </p>
        </section>
      </div>
      {plans.length > 1 && (
        <section className="sheet stack close" aria-label="Other plans">
          <h2>Less stock or fewer steps, for more uncertainty</h2>
          <div className="calculator-chart">
            <InBrowser>
              <PlansChart plans={plans} chosen={chosen} onChoose={setChosen} />
            </InBrowser>
          </div>
          <PlansTable plans={plans} chosen={chosen} onChoose={setChosen} />
        </section>
      )}
    </main>
  );
}

const Entry = ({
  name,
  label,
  hint,
  texts,
  set,
  wrong,
}: {
  name: Field;
  label: string;
  hint?: string;
  texts: Record<Field, string>;
  set(name: Field): (text: string) => void;
  wrong: Wrong;
}) => (
  <NumberEntry
    name={name}
    label={label}
    {...(hint === undefined ? {} : { hint })}
    unit=""
    bare
    text={texts[name]}
    onText={set(name)}
    wrong={wrong[name]}
  />
);

import "../../ui/bench/bench.css";
import "./calculator.css";
import { lazy, useEffect, useRef, useState } from "react";
import { Link, type ShouldRevalidateFunctionArgs, useFetcher, useLoaderData } from "react-router";
import { z } from "zod";
import type { Answer, BadInput } from "../../../core/calculators/define";
import { findCalculator } from "../../../core/calculators/registry";
import { InBrowser } from "../../ui/charts/InBrowser";
import { DueMark } from "../../ui/DueMark";
import type { Route } from "./+types/calculator";
import { hasChart } from "./charted";
import type { InputSchema } from "./inputSchema";
import { Outputs } from "./Outputs";
import { SchemaFields } from "./SchemaFields";

const CalculatorChart = lazy(() => import("./CalculatorChart"));

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.title ?? "Calculator"} · Brintel` },
];

const inputsSchema = z.record(z.string(), z.unknown());

/** The inputs an address carries; the example without them, or when they cannot be read. */
function inputsOf(text: string | null, example: Record<string, unknown>): Record<string, unknown> {
  try {
    return inputsSchema.parse(JSON.parse(text ?? ""));
  } catch {
    return example;
  }
}

export function loader({ params, url }: Route.LoaderArgs) {
  const calculator = findCalculator(params.calculatorId);
  if (!calculator) throw new Response("No such calculator", { status: 404 });
  const { id, title, purpose, sources, example, inputSchema, searches } = calculator;
  const inputs = inputsOf(url.searchParams.get("with"), example);
  return {
    id,
    title,
    purpose,
    sources,
    searches,
    inputs,
    // What searches may take seconds: it is asked for, and never done in passing.
    first: searches ? null : calculator.run(inputs),
    schema: z.toJSONSchema(inputSchema, { io: "input" }) as InputSchema,
  };
}

/** The address follows what is typed; that asks nothing anew of the server. */
export const shouldRevalidate = ({
  currentUrl,
  nextUrl,
  defaultShouldRevalidate,
}: ShouldRevalidateFunctionArgs) =>
  currentUrl.pathname === nextUrl.pathname ? false : defaultShouldRevalidate;

/** How long nobody types before it is calculated. */
const pause_ms = 350;

/** Every calculator begins with its own numbers, also when one page leads to the next. */
export default function CalculatorPage() {
  const loaded = useLoaderData<typeof loader>();
  return <CalculatorOf key={loaded.id} loaded={loaded} />;
}

function CalculatorOf({ loaded }: { loaded: ReturnType<typeof useLoaderData<typeof loader>> }) {
  const { id, title, purpose, sources, searches, inputs: initial, first, schema } = loaded;
  const [inputs, setInputs] = useState<Record<string, unknown>>(initial);
  // A sentence under a field while it is being typed would only be in the way.
  const [asked, setAsked] = useState(false);
  const fetcher = useFetcher<Answer | BadInput>();
  const answer = fetcher.data ?? first;
  const bad = answer && "errors" in answer ? answer.errors : [];
  const good = useRef<Answer | null>(null);
  if (answer && !("errors" in answer)) good.current = answer;
  const shown = good.current;
  const stale = bad.length > 0;
  const errors = asked ? Object.fromEntries(bad.map((e) => [e.path, e.message])) : {};
  const { submit } = fetcher;
  const calculate = (values: Record<string, unknown>) => {
    window.history.replaceState(
      window.history.state,
      "",
      `?with=${encodeURIComponent(JSON.stringify(values))}`,
    );
    submit(JSON.stringify(values), {
      method: "post",
      action: `/api/calculators/${id}`,
      encType: "application/json",
    });
  };
  const later = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(later.current), []);
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>{title}</h1>
          <p className="sub">{purpose}</p>
        </div>
        <Link to="/solutions" className="calm no-print">
          All calculators
        </Link>
      </div>
      <div className="calculator">
        <form
          className="sheet stack printed"
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            clearTimeout(later.current);
            setAsked(true);
            calculate(inputs);
          }}
        >
          <SchemaFields
            schema={schema}
            values={inputs}
            errors={errors}
            path=""
            onChange={(next) => {
              setInputs(next);
              clearTimeout(later.current);
              if (!searches) later.current = setTimeout(() => calculate(next), pause_ms);
            }}
          />
          {errors[""] && <p className="wrong">{errors[""]}</p>}
          <div className="cluster no-print">
            <button type="submit" className="act small">
              Calculate <kbd>enter</kbd>
            </button>
          </div>
        </form>
        <section className="sheet stack close result" aria-label="Result" aria-live="polite">
          {!shown && <p className="quiet">Fill in the numbers: the result stands here.</p>}
          {shown && stale && (
            <p className="note" role="status">
              <DueMark /> The result of before: what stands in the fields now gives none.
            </p>
          )}
          {shown && (
            <div className={stale ? "stack close stale" : "stack close"}>
              <Outputs outputs={shown.outputs} inputs={schema.properties ?? {}} given={inputs} />
              {shown.warnings.map((w) => (
                <p key={w.code + w.message} className="note">
                  <DueMark /> {w.message}
                </p>
              ))}
              {hasChart(id) && (
                <div className="calculator-chart">
                  <InBrowser>
                    <CalculatorChart id={id} inputs={inputs} outputs={shown.outputs} />
                  </InBrowser>
                </div>
              )}
              <h3>Working</h3>
              {shown.working.map((line) => (
                <p key={line} className="m small working">
                  {line}
                </p>
              ))}
              <div className="cluster no-print">
                <button type="button" className="calm" onClick={() => window.print()}>
                  Print this page
                </button>
              </div>
            </div>
          )}
          <p className="quiet small">Source: {sources.join("; ")}.</p>
        </section>
      </div>
    </main>
  );
}

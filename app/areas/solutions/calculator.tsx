import "../../ui/bench/bench.css";
import "./calculator.css";
import { useEffect, useRef, useState } from "react";
import { data, Link, type ShouldRevalidateFunctionArgs, useLoaderData, useSearchParams } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import type { Answer, BadInput } from "../../../core/calculators/define";
import { findCalculator } from "../../../core/calculators/registry";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { findKept, keepCalculation, subjectCalled, toKeepSchema } from "../../server/solutions/kept.server";
import { InBrowser } from "../../ui/charts/InBrowser";
import { DueMark } from "../../ui/DueMark";
import { lazyPart } from "../../ui/lazyPart";
import { Working } from "../../ui/Working";
import type { Route } from "./+types/calculator";
import { hasChart } from "./charted";
import type { InputSchema } from "./inputSchema";
import { type KeepAnswer, KeepIt } from "./KeepIt";
import { Outputs } from "./Outputs";
import { rememberCalculator } from "./recent";
import { SchemaFields } from "./SchemaFields";
import { useCalculation } from "./useCalculation";

const CalculatorChart = lazyPart(() => import("./CalculatorChart"));

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

export async function loader({ params, url, context }: Route.LoaderArgs) {
  const calculator = findCalculator(params.calculatorId);
  if (!calculator) throw new Response("No such calculator", { status: 404 });
  const { id, title, purpose, sources, example, inputSchema, searches } = calculator;
  const db = context.get(dbContext);
  const kept = await findKept(db, url.searchParams.get("kept") ?? "");
  const own = kept?.calculator === id ? kept : null;
  const inputs = inputsOf(url.searchParams.get("with"), own?.inputs ?? example);
  return {
    kept: own,
    zone: (await rulesInForce(db)).rules.zone,
    // What is kept is kept once, however often its form is sent.
    keepAs: ulid(),
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

/** Keeps what was calculated with the record it served. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const refuse = (errors: KeepAnswer["errors"]) => data<KeepAnswer>({ errors, kept: null }, { status: 422 });
  let inputs: unknown;
  try {
    inputs = JSON.parse(String(form.get("inputs")));
  } catch {
    return refuse({ form: "The inputs are not JSON." });
  }
  const read = toKeepSchema.safeParse({
    id: form.get("id"),
    calculator: params.calculatorId,
    inputs,
    note: textField(form, "note"),
  });
  if (!read.success) return refuse({ form: "That cannot be kept.", ...fieldErrors(read.error) });
  const code = textField(form, "for");
  const subject = await subjectCalled(db, code);
  if (code && !subject) return refuse({ for: `Nothing here is called ${code.slice(0, 40)}.` });
  const refused = await keepCalculation(db, read.data, subject, context.get(personContext), nowIso());
  if (refused) return refuse({ form: refused });
  return data<KeepAnswer>({
    errors: {},
    kept: subject ?? {
      href: `/solutions/${params.calculatorId}?kept=${read.data.id}`,
      label: "See it as it was kept",
    },
  });
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
  const {
    id,
    title,
    purpose,
    sources,
    searches,
    inputs: initial,
    first,
    schema,
    kept,
    zone,
    keepAs,
  } = loaded;
  const forWhat = useSearchParams()[0].get("for") ?? "";
  const [inputs, setInputs] = useState<Record<string, unknown>>(initial);
  // A sentence under a field while it is being typed would only be in the way.
  const [asked, setAsked] = useState(false);
  const calculation = useCalculation<Answer | BadInput>(id);
  const answer = calculation.data ?? first;
  const bad = answer && "errors" in answer ? answer.errors : [];
  const good = useRef<Answer | null>(null);
  if (answer && !("errors" in answer)) good.current = answer;
  const shown = good.current;
  const stale = bad.length > 0;
  const errors = asked ? Object.fromEntries(bad.map((e) => [e.path, e.message])) : {};
  const calculate = (values: Record<string, unknown>) => {
    const address = new URLSearchParams({
      ...(forWhat ? { for: forWhat } : {}),
      with: JSON.stringify(values),
    });
    window.history.replaceState(window.history.state, "", `?${address}`);
    rememberCalculator({ id, title, search: `?with=${encodeURIComponent(JSON.stringify(values))}` });
    calculation.calculate(values);
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
      {kept && inputs === initial && <AsKept kept={kept} zone={zone} now={shown?.outputs ?? null} />}
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
              <Working lines={shown.working} />
              <KeepIt id={keepAs} key={keepAs} inputs={inputs} forWhat={forWhat} disabled={stale} />
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

/** When and for what it was kept, and what came of it then where today's program reckons otherwise. */
function AsKept({
  kept,
  zone,
  now,
}: {
  kept: NonNullable<ReturnType<typeof useLoaderData<typeof loader>>["kept"]>;
  zone: string;
  now: Record<string, unknown> | null;
}) {
  const differs = now !== null && JSON.stringify(now) !== JSON.stringify(kept.outputs);
  return (
    <section className="sheet stack close" aria-label="As it was kept">
      <p>
        Kept on {showTime(kept.at, zone, "both")} by {kept.by}
        {kept.subject && (
          <>
            {" for "}
            <Link to={kept.subject.href}>{kept.subject.label}</Link>
          </>
        )}
        {kept.note && `: ${kept.note}`}.
      </p>
      {differs && (
        <>
          <p className="note">
            <DueMark /> It is reckoned otherwise today. This came of it then:
          </p>
          <Outputs outputs={kept.outputs} inputs={{}} given={kept.inputs} />
        </>
      )}
    </section>
  );
}

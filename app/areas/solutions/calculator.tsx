import "../../shared/bench/bench.css";
import { useState } from "react";
import { useFetcher, useLoaderData } from "react-router";
import { z } from "zod";
import type { Answer, BadInput } from "../../../core/calculators/define";
import { findCalculator } from "../../../core/calculators/registry";
import { DueMark } from "../../shared/DueMark";
import type { Route } from "./+types/calculator";
import { Outputs } from "./Outputs";
import { type InputSchema, SchemaFields } from "./SchemaFields";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.title ?? "Calculator"} · Brintel` },
];

export function loader({ params }: Route.LoaderArgs) {
  const calculator = findCalculator(params.calculatorId);
  if (!calculator) throw new Response("No such calculator", { status: 404 });
  const { id, title, purpose, sources, example, inputSchema } = calculator;
  return {
    id,
    title,
    purpose,
    sources,
    example,
    schema: z.toJSONSchema(inputSchema, { io: "input" }) as InputSchema,
  };
}

export default function CalculatorPage() {
  const { id, title, purpose, sources, example, schema } = useLoaderData<typeof loader>();
  const [inputs, setInputs] = useState<Record<string, unknown>>(example);
  const fetcher = useFetcher<Answer | BadInput>();
  const answer = fetcher.data;
  const errors =
    answer && "errors" in answer ? Object.fromEntries(answer.errors.map((e) => [e.path, e.message])) : {};
  return (
    <main className="narrow">
      <h1>{title}</h1>
      <p className="sub">{purpose}</p>
      <form
        className="form sheet"
        style={{ maxWidth: "none" }}
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          fetcher.submit(JSON.stringify(inputs), {
            method: "post",
            action: `/api/calculators/${id}`,
            encType: "application/json",
          });
        }}
      >
        <SchemaFields schema={schema} values={inputs} errors={errors} path="" onChange={setInputs} />
        {errors[""] && <p className="wrong">{errors[""]}</p>}
        <button type="submit" className="act" style={{ justifySelf: "start" }}>
          Calculate <kbd>enter</kbd>
        </button>
      </form>
      {answer && !("errors" in answer) && (
        <section className="sheet" style={{ marginTop: 16 }} aria-live="polite">
          <Outputs outputs={answer.outputs} />
          {answer.warnings.map((w, i) => (
            <p key={i} className="note">
              <DueMark /> {w.message}
            </p>
          ))}
          <h3>Working</h3>
          {answer.working.map((line, i) => (
            <p key={i} className="m small" style={{ margin: "0 0 4px" }}>
              {line}
            </p>
          ))}
          <button type="button" className="calm no-print" onClick={() => window.print()}>
            Print this page
          </button>
        </section>
      )}
      <p className="quiet small" style={{ marginTop: 16 }}>
        Source: {sources.join("; ")}.
      </p>
    </main>
  );
}

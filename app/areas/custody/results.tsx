import { useSending } from "../../ui/useSending";
import "./custody.css";
import { Checkbox, Input } from "antd";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { z } from "zod";
import { counted } from "../../../core/quantity/format";
import { showFound } from "../../../core/quantity/found";
import {
  type LabField,
  type LabMapping,
  labFields,
  labMappingSchema,
  neededFields,
} from "../../../core/samples/labResults";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { batchState } from "../../server/samples/batches.server";
import { dryRun, mappingFor, readLabFile, takeOver } from "../../server/samples/labFile.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { Formula } from "../../ui/Formula";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/results";

export const meta: Route.MetaFunction = () => [{ title: "Results of a laboratory · Brintel" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const { state, zone } = await batchState(context.get(dbContext), params.workId);
  return { id: params.workId, laboratory: state.batch.laboratory, zone };
}

const formSchema = z.object({
  do: z.enum(["look", "keep"]),
  text: z.string(),
  name: z.string().trim().max(120),
  dates: z.enum(["year-first", "day-first", "month-first"]).optional(),
  partly: z.boolean(),
});

/** The columns as they were chosen on the page; null where no choice was made yet. */
function chosenMapping(form: FormData): LabMapping | null {
  if (form.get("dates") === null) return null;
  const columns = Object.fromEntries(
    labFields.flatMap((f) => {
      const column = String(form.get(`column-${f}`) ?? "");
      return column ? [[f, column]] : [];
    }),
  );
  return labMappingSchema.safeParse({ columns, dates: form.get("dates") }).data ?? null;
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const upload = form.get("file");
  const uploaded = upload instanceof File && upload.size > 0 ? upload : null;
  const read = formSchema.safeParse({
    do: form.get("do"),
    text: uploaded ? await uploaded.text() : String(form.get("text") ?? ""),
    name: uploaded ? uploaded.name.slice(0, 120) : String(form.get("name") ?? ""),
    dates: form.get("dates") ?? undefined,
    partly: form.get("partly") !== null,
  });
  if (!read.success) return data({ message: "This form is not known here." }, { status: 422 });
  const { text, name, partly } = read.data;
  const now = nowIso();
  const file = readLabFile(text);
  if ("message" in file) return data({ message: file.message, text, name }, { status: 422 });
  const { state } = await batchState(db, params.workId);
  const guessed = await mappingFor(db, state.batch.laboratory, file.head);
  // Another file brings other columns: what was chosen for the one before does not serve.
  const own = uploaded ? null : chosenMapping(form);
  const mapping = own ?? guessed;
  const tried = await dryRun(db, params.workId, file, mapping, now);
  const shown = {
    text,
    name: name || "typed",
    head: file.head,
    mapping: { columns: mapping.columns, dates: mapping.dates },
    remembered: own === null && guessed.remembered,
  };
  if ("message" in tried) return data({ ...shown, message: tried.message }, { status: 422 });
  const preview = { ...shown, ...tried, lines: file.rows.length };
  if (read.data.do === "look") return data(preview);
  if (tried.results.length === 0 || (tried.refused.length > 0 && !partly))
    return data(
      { ...preview, message: "Nothing was taken over: mend the lines that are refused, or leave them out." },
      { status: 422 },
    );
  const refused = await takeOver(
    db,
    params.workId,
    { name: shown.name, text },
    tried.results,
    mapping,
    context.get(personContext),
    now,
  );
  return refused
    ? data({ ...preview, message: refused }, { status: 422 })
    : redirect(`/custody/${params.workId}`);
}

const fieldWords: Record<LabField, string> = {
  sample: "Sample",
  parameter: "Test",
  value: "Value",
  unit: "Unit",
  method: "Method",
  detection_limit: "Detection limit",
  measured_at: "Analysed on",
};

interface Answer {
  message?: string;
  text?: string;
  name?: string;
  head?: string[];
  mapping?: LabMapping;
  remembered?: boolean;
  lines?: number;
  results?: Exclude<Awaited<ReturnType<typeof dryRun>>, { message: string }>["results"];
  refused?: Exclude<Awaited<ReturnType<typeof dryRun>>, { message: string }>["refused"];
}

export default function LabResults() {
  const { id, laboratory, zone } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>() as Answer | undefined;
  const busy = useSending();
  const { head, mapping, results, refused = [] } = answer ?? {};
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>What {laboratory} found</h1>
          <p className="sub">
            A table as text, one result a line. It is looked at first; nothing is kept before you say so.
          </p>
        </div>
        <Link to={`/custody/${id}`} className="calm strong">
          Back to the batch
        </Link>
      </div>
      <Form method="post" encType="multipart/form-data" className="stack" key={answer?.name ?? ""}>
        <section className="sheet stack close">
          <div className="field">
            <label htmlFor="lab-file">The laboratory's file (CSV)</label>
            <input id="lab-file" type="file" name="file" accept=".csv,.txt,.tsv,text/csv,text/plain" />
          </div>
          <input type="hidden" name="name" value={answer?.name ?? ""} />
          <div className="field">
            <label htmlFor="lab-text">or its lines, pasted or typed</label>
            <Input.TextArea
              id="lab-text"
              name="text"
              className="m"
              rows={7}
              defaultValue={answer?.text ?? ""}
              placeholder={
                "sample,parameter,result,unit,method,detection limit,analysed\nE1-0412-1,Nitrate as NO3,12.4,mg/L,IC,0.1,2026-04-13"
              }
            />
          </div>
          {answer?.message && (
            <p className="wrong" role="alert">
              {answer.message}
            </p>
          )}
          <div className="cluster">
            <button
              type="submit"
              name="do"
              value="look"
              className={results ? "calm strong" : "act"}
              disabled={busy}
            >
              Look at it
            </button>
          </div>
        </section>
        {head && mapping && (
          <section className="sheet stack close" aria-label="Which column is what">
            <h2>Which column is what</h2>
            <p className="quiet">
              {answer?.remembered
                ? "As in the last file of this laboratory."
                : "Guessed from its first line. What you choose is remembered for this laboratory."}
            </p>
            <div className="columns" style={{ "--column": "220px" } as React.CSSProperties}>
              {labFields.map((f) => (
                <ChoiceField
                  key={`${answer?.name}-${f}`}
                  name={`column-${f}`}
                  label={fieldWords[f]}
                  initial={mapping.columns[f] ?? ""}
                  options={[
                    { value: "", label: neededFields.includes(f) ? "Choose" : "not in the file" },
                    ...head.map((h) => ({ value: h, label: h })),
                  ]}
                />
              ))}
              <ChoiceField
                name="dates"
                label="Dates are written"
                initial={mapping.dates}
                options={[
                  { value: "year-first", label: "2026-04-13" },
                  { value: "day-first", label: "13.04.2026" },
                  { value: "month-first", label: "04/13/2026" },
                ]}
              />
            </div>
          </section>
        )}
        {results && (
          <section className="stack close" aria-label="What would be taken over">
            <h2>
              {counted(results.length, "result")} of {counted(answer?.lines ?? 0, "line")}
              {refused.length ? `, ${refused.length} refused` : ""}
            </h2>
            {refused.length > 0 && (
              <WideTable name="Refused lines">
                <table className="figures refused">
                  <thead>
                    <tr>
                      <th>Line</th>
                      <th>Column</th>
                      <th>Why</th>
                    </tr>
                  </thead>
                  <tbody>
                    {refused.map((r) => (
                      <tr key={r.line}>
                        <td className="m">{r.line}</td>
                        <td>{r.column}</td>
                        <td>
                          <VerdictMark verdict="held" /> {r.reason}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </WideTable>
            )}
            {results.length > 0 && (
              <WideTable name="Results">
                <table className="figures came">
                  <thead>
                    <tr>
                      <th>Line</th>
                      <th>Test</th>
                      <th>As written</th>
                      <th>As kept</th>
                      <th>Analysed</th>
                    </tr>
                  </thead>
                  <tbody>
                    {results.map((r) => (
                      <tr key={r.line}>
                        <td className="m">{r.line}</td>
                        <td>
                          <Formula>
                            {r.species === r.analyte ? r.analyte : `${r.analyte} as ${r.species}`}
                          </Formula>
                        </td>
                        <td className="m">
                          {r.written} {r.written_unit}
                        </td>
                        <td>
                          <span className="m">
                            {showFound(r.found, r.decimals, { between: "interval", below: "less-than" })}
                          </span>{" "}
                          {r.unit}
                        </td>
                        <td className="nowrap">
                          {r.measured_at ? showTime(r.measured_at, zone, "full") : "not said"}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </WideTable>
            )}
            {refused.length > 0 && results.length > 0 && (
              <Checkbox name="partly">Leave the refused lines out</Checkbox>
            )}
            {results.length > 0 && (
              <div className="cluster">
                <button type="submit" name="do" value="keep" className="act" disabled={busy}>
                  Keep {counted(results.length, "result")}
                </button>
              </div>
            )}
          </section>
        )}
      </Form>
    </main>
  );
}

import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { bringFile, importLimits, newestImports } from "../../server/exchange/importFile.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/imports";
import "./imports.css";

export const meta: Route.MetaFunction = () => [{ title: "Bring in a file · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  return {
    imports: await newestImports(db),
    zone: (await rulesInForce(db)).rules.zone,
    lines: importLimits.lines,
    mayImport: may(context.get(personContext), "import"),
  };
}

/** Keeps a file, so that it can be looked at. */
export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const upload = form.get("file");
  const file = upload instanceof File && upload.size > 0 ? upload : null;
  const pasted = String(form.get("text") ?? "");
  const refuse = (message: string) => data({ message, text: pasted.slice(0, 1_000_000) }, { status: 422 });
  if (!file && pasted.trim() === "") return refuse("Choose a file, or paste its lines.");
  if (file && file.size > importLimits.bytes)
    return refuse("This file is larger than 30 MB. Bring it in by parts.");
  const text = file ? await file.text() : pasted;
  const name = file ? file.name : "pasted lines";
  const kept = await bringFile(context.get(dbContext), { name, text }, context.get(personContext), nowIso());
  return "message" in kept ? refuse(kept.message) : redirect(`/imports/${kept.id}`);
}

const words = {
  looked: "looked at, not taken over",
  taken: "taken over",
  undone: "taken out again",
} as const;

export default function Imports() {
  const { imports, zone, lines, mayImport } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  return (
    <main className="stack">
      <div>
        <h1>Bring in a file</h1>
        <p className="sub">
          A table as text (CSV): results, a line for each or a line for each visit with a column for each
          quantity; or lots for the shelf. Or methods, as the JSON documents that Brintel gives out. It is
          looked at first; nothing is kept before you say so. <Link to="/ledger">The ledger</Link>
        </p>
      </div>
      {mayImport && (
        <section className="sheet" aria-label="A file">
          <Form method="post" encType="multipart/form-data" className="form">
            <div className="field">
              <label htmlFor="file">The file</label>
              <input
                id="file"
                name="file"
                type="file"
                accept=".csv,.tsv,.txt,.json,text/csv,text/plain,application/json"
                className="file"
              />
              <div className="hint">Up to {counted(lines, "line")}. The first names the columns.</div>
            </div>
            <div className="field">
              <label htmlFor="text">Or its lines, pasted</label>
              <textarea
                id="text"
                name="text"
                rows={5}
                className="m pasted"
                defaultValue={answer?.text ?? ""}
              />
            </div>
            {answer?.message && (
              <p className="wrong" role="alert">
                {answer.message}
              </p>
            )}
            <div className="actions">
              <button type="submit" className="act" disabled={busy}>
                Look at it
              </button>
            </div>
          </Form>
        </section>
      )}
      {imports.length > 0 && (
        <section className="stack close" aria-label="Files that were brought in">
          <h2>Files that were brought in</h2>
          <ul className="points">
            {imports.map((i) => (
              <li key={i.id}>
                <Link to={`/imports/${i.id}`}>{i.name}</Link>: {counted(i.lines, "line")}, {words[i.status]}
                {i.taken !== null && `, ${counted(i.taken, "result")}`}; {i.by},{" "}
                {showTime(i.at, zone, "both")}
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

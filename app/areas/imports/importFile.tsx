import { Checkbox } from "antd";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { counted, formatNumber } from "../../../core/quantity/format";
import { importFields, importMappingSchema } from "../../../core/results/importLines";
import { showTime } from "../../../core/time/words";
import { findImport, keepMapping, putAway, tableOf } from "../../server/exchange/importFile.server";
import { beginTaking, beginUndoing, importUnderWay, lookAt } from "../../server/exchange/importRunner.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { textField } from "../../server/platform/forms.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { listSites } from "../../server/sites/sites.server";
import { WithReason } from "../../ui/TakeOut";
import { useLookAgain } from "../../ui/useLookAgain";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/importFile";
import { RefusedLines, TakenLines } from "./Lines";
import { MappingForm } from "./MappingForm";
import "./imports.css";

export const meta: Route.MetaFunction = () => [{ title: "Bring in results · Brintel" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const row = await findImport(db, params.importId);
  if (!row) throw new Response("No such file", { status: 404 });
  const under = importUnderWay(row.id);
  const open = row.status === "looked" && !under?.running;
  return {
    row,
    under,
    zone: (await rulesInForce(db)).rules.zone,
    head: open ? ((await tableOf(db, row.id))?.head ?? []) : [],
    looked: open ? await lookAt(db, row) : null,
    sites: open ? (await listSites(db)).map((s) => s.name) : [],
    mayImport: may(context.get(personContext), "import"),
  };
}

export async function action({ params, request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const row = await findImport(db, params.importId);
  if (!row) throw new Response("No such file", { status: 404 });
  const form = await request.formData();
  const here = redirect(`/imports/${row.id}`);
  const refuse = (message: string) => data({ message }, { status: 422 });
  switch (form.get("do")) {
    case "map": {
      const columns = Object.fromEntries(
        importFields.flatMap((f) => {
          const column = textField(form, `column-${f}`);
          return column ? [[f, column]] : [];
        }),
      );
      const read = importMappingSchema.safeParse({
        columns,
        dates: textField(form, "dates"),
        site: textField(form, "site"),
      });
      if (!read.success) return refuse("This choice of columns is not known here.");
      const table = await tableOf(db, row.id);
      if (table) await keepMapping(db, row.id, table.head, read.data, person, nowIso());
      return here;
    }
    case "take":
      await beginTaking(db, row, form.get("partly") !== null, person);
      break;
    case "drop":
      await putAway(db, row.id, person);
      return redirect("/imports");
    default: {
      const reason = textField(form, "reason");
      if (reason === "") return refuse("Say why it is taken out.");
      if (reason.length > 200) return refuse("Keep the reason under 201 characters.");
      await beginUndoing(db, row, reason, person);
    }
  }
  const refused = importUnderWay(row.id)?.refused;
  return refused ? refuse(refused) : here;
}

export default function ImportFile() {
  const { row, under, zone, head, looked, sites, mayImport } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const running = under?.running ?? false;
  useLookAgain(async () => true, running);
  return (
    <main className="stack">
      <div>
        <h1>{row.name}</h1>
        <p className="sub">
          {counted(row.lines, "line")}, brought in by {row.by}, {showTime(row.at, zone, "both")}.{" "}
          <Link to="/imports">All files</Link>
        </p>
      </div>
      {running && (
        <section className="sheet" aria-live="polite">
          <h2>{under?.what === "undo" ? "Taking it out again …" : "Taking it over …"}</h2>
          <progress max={1} value={under?.share ?? 0} aria-label="How much is done" />
          <p className="quiet">You may go on working; nothing is half done.</p>
        </section>
      )}
      {!running && under?.refused && !answer?.message && (
        <p className="wrong" role="alert">
          {under.refused}
        </p>
      )}
      {row.status === "taken" && !running && (
        <section className="sheet stack close" aria-label="Taken over">
          <p>
            <b>{counted(row.taken ?? 0, "result")} taken over</b>,{" "}
            {showTime(row.settled_at ?? row.at, zone, "both")}. They are qualified: what they rest on is not
            known here.
          </p>
          {mayImport && (
            <WithReason
              summary="Take all of it out again"
              label="Why it does not count"
              hint="The results stay to be seen, and are not counted any more. The file can be brought in once more."
              action="Take it out"
            />
          )}
        </section>
      )}
      {row.status === "undone" && (
        <p className="note">
          All of it was taken out again, {showTime(row.settled_at ?? row.at, zone, "both")}.
        </p>
      )}
      {looked && mayImport && (
        <>
          <MappingForm
            key={JSON.stringify(row.mapping)}
            head={head}
            mapping={row.mapping}
            sites={sites}
            busy={busy}
          />
          {looked.message && (
            <p className="wrong" role="alert">
              {looked.message}
            </p>
          )}
          {!looked.message && (
            <section className="sheet stack close" aria-label="What would be taken over">
              <h2>
                {formatNumber(looked.taken, 0)} {looked.taken === 1 ? "result" : "results"} can be taken over
                {looked.refused > 0 && `, ${formatNumber(looked.refused, 0)} cannot`}
              </h2>
              <TakenLines lines={looked.examples} of={looked.taken} zone={zone} />
              {looked.refused > 0 && <RefusedLines lines={looked.why} of={looked.refused} />}
              {answer?.message && (
                <p className="wrong" role="alert">
                  {answer.message}
                </p>
              )}
              <Form method="post" className="stack close" preventScrollReset>
                {looked.refused > 0 && (
                  <Checkbox name="partly">Leave out the lines that cannot be taken over</Checkbox>
                )}
                <div className="actions">
                  <button
                    type="submit"
                    name="do"
                    value="take"
                    className="act"
                    disabled={busy || looked.taken === 0}
                  >
                    Take it over
                  </button>
                  <button type="submit" name="do" value="drop" className="calm" disabled={busy}>
                    Put the file away
                  </button>
                </div>
              </Form>
            </section>
          )}
        </>
      )}
    </main>
  );
}

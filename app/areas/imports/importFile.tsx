import { Checkbox } from "antd";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { counted, formatNumber } from "../../../core/quantity/format";
import { importFields, importMappingSchema } from "../../../core/results/importLines";
import { lotFields, lotMappingSchema } from "../../../core/stock/lotLines";
import { showTime } from "../../../core/time/words";
import {
  findImport,
  type ImportRow,
  keepMapping,
  putAway,
  tableOf,
  takeItFor,
} from "../../server/exchange/importFile.server";
import { beginTaking, beginUndoing, importUnderWay, lookAt } from "../../server/exchange/importRunner.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { reasonOf, textField } from "../../server/platform/forms.server";
import { Forbidden, may, rights } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { allSites } from "../../server/sites/sites.server";
import { WithReason } from "../../ui/TakeOut";
import { useLookAgain } from "../../ui/useLookAgain";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/importFile";
import { Examples, Refused } from "./Lines";
import { MappingForm } from "./MappingForm";
import "./imports.css";

export const meta: Route.MetaFunction = () => [{ title: "Bring in a file · Brintel" }];

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
    head: open && row.kind !== "methods" ? ((await tableOf(db, row.id))?.head ?? []) : [],
    looked: open ? await lookAt(db, row) : null,
    sites: open && row.kind === "results" ? (await allSites(db)).map((s) => s.name) : [],
    mayImport: may(context.get(personContext), rightFor[row.kind]),
    /** What somebody must be allowed to do who takes it over, in words. */
    needs: rights[rightFor[row.kind]].words,
  };
}

/** What somebody needs to be allowed for each kind of file. */
const rightFor = { results: "import", lots: "stock", methods: "methods" } as const;

export async function action({ params, request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const row = await findImport(db, params.importId);
  if (!row) throw new Response("No such file", { status: 404 });
  const form = await request.formData();
  const here = redirect(`/imports/${row.id}`);
  const refuse = (message: string, status = 422) => data({ message }, { status });
  const right = rightFor[row.kind];
  if (!may(person, right)) return refuse(new Forbidden(right, person.role).message, 403);
  let refused: string | null = null;
  switch (form.get("do")) {
    case "map": {
      const read = mappingFrom(form, row.kind);
      if (!read?.success) return refuse("This choice of columns is not known here.");
      const table = await tableOf(db, row.id);
      if (table) await keepMapping(db, row.id, table.head, read.data, person, nowIso());
      break;
    }
    case "results":
    case "lots":
      await takeItFor(db, row.id, form.get("do") as "results" | "lots", person);
      break;
    case "take":
      refused = await beginTaking(db, row, form.get("partly") !== null, person);
      break;
    case "drop":
      await putAway(db, row.id, person);
      return redirect("/imports");
    default: {
      const said = reasonOf(form, "Say why it is taken out.");
      if ("message" in said) return refuse(said.message);
      refused = await beginUndoing(db, row, said.reason, person);
    }
  }
  return refused ? refuse(refused) : here;
}

/** The choice of columns that a form makes; null where a file has none. */
function mappingFrom(form: FormData, kind: ImportRow["kind"]) {
  if (kind === "methods") return null;
  const columns = Object.fromEntries(
    (kind === "lots" ? lotFields : importFields).flatMap((f) => {
      const column = textField(form, `column-${f}`);
      return column ? [[f, column]] : [];
    }),
  );
  const dates = textField(form, "dates");
  return kind === "lots"
    ? lotMappingSchema.safeParse({ columns, dates })
    : importMappingSchema.safeParse({ columns, dates, site: textField(form, "site") });
}

const words = {
  results: {
    one: "result",
    many: "results",
    after: "They are qualified: what they rest on is not known here.",
    undo: "The results stay to be seen, and are not counted any more. The file can be brought in once more.",
  },
  lots: {
    one: "lot",
    many: "lots",
    after: "They stand on the shelf.",
    undo: "As long as none of them was used or changed. The file can be brought in once more.",
  },
  methods: {
    one: "method",
    many: "methods",
    after: "Each can be run, edited and taken out of use.",
    undo: null,
  },
} as const;

export default function ImportFile() {
  const { row, under, zone, head, looked, sites, mayImport, needs } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const running = under?.running ?? false;
  const { one, many, after, undo } = words[row.kind];
  const counts = (n: number) => `${formatNumber(n, 0)} ${n === 1 ? one : many}`;
  useLookAgain(async () => true, running);
  return (
    <main className="stack">
      <div>
        <h1>{row.name}</h1>
        <p className="sub">
          {counted(row.lines, row.kind === "methods" ? "document" : "line")}, brought in by {row.by},{" "}
          {showTime(row.at, zone, "both")}. <Link to="/imports">All files</Link>
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
            <b>{counts(row.taken ?? 0)} taken over</b>, {showTime(row.settled_at ?? row.at, zone, "both")}.{" "}
            {after} {row.kind === "results" && <Link to={`/ledger?file=${row.id}`}>In the ledger</Link>}
            {row.kind === "lots" && <Link to="/stock">Stock</Link>}
            {row.kind === "methods" && <Link to="/runs">Tests</Link>}
          </p>
          {mayImport && undo && (
            <WithReason
              summary="Take all of it out again"
              label="Why it does not count"
              hint={undo}
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
      {looked && !mayImport && <p className="note">It waits for somebody who may {needs}.</p>}
      {looked && mayImport && (
        <>
          {looked.message && (
            <p className="wrong" role="alert">
              {answer?.message ?? looked.message}
            </p>
          )}
          {!looked.message && (
            <section className="sheet stack close" aria-label="What would be taken over">
              <h2>
                {counts(looked.taken)} can be taken over
                {looked.refused > 0 && `, ${formatNumber(looked.refused, 0)} cannot`}
              </h2>
              <Examples looked={looked} zone={zone} />
              {looked.refused > 0 && <Refused kind={row.kind} refused={looked.refused} why={looked.why} />}
              {answer?.message && (
                <p className="wrong" role="alert">
                  {answer.message}
                </p>
              )}
              <Form method="post" className="stack close" preventScrollReset>
                {looked.refused > 0 && <Checkbox name="partly">Leave out what cannot be taken over</Checkbox>}
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
          {row.kind !== "methods" && (
            <MappingForm
              key={JSON.stringify(row.mapping)}
              file={row}
              head={head}
              sites={sites}
              busy={busy}
              open={looked.taken === 0}
            />
          )}
        </>
      )}
    </main>
  );
}

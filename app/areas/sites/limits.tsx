import { useSending } from "../../ui/useSending";
import "./sites.css";
import { Checkbox, Input } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { endsInWords, limitedQuantity, limitKinds } from "../../../core/rules/limitSets";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { may } from "../../server/platform/rights.server";
import { limitQuantities, limitRows, limitSetFromForm } from "../../server/rules/limitForm.server";
import { addLimitSet, limitSetFromJson, storedLimitSets } from "../../server/rules/limitSets.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { Formula } from "../../ui/Formula";
import { OutOfUseList } from "../../ui/OutOfUse";
import { TextField } from "../../ui/TextField";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/limits";

export const meta: Route.MetaFunction = () => [{ title: "Limits · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await storedLimitSets(db);
  const mayChange = may(context.get(personContext), "rules");
  return {
    sets: stored.flatMap(({ set, own, out_of_use }) => (out_of_use ? [] : [{ ...set, own }])),
    gone: stored.flatMap(({ set: { id, name }, out_of_use: out }) =>
      out ? [{ href: `/sites/limits/${id}`, name, out }] : [],
    ),
    quantities: mayChange ? (await limitQuantities(db)).map(({ label }) => label) : [],
    rows: limitRows,
    zone: (await rulesInForce(db)).rules.zone,
    mayChange,
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const json = form.get("limit-set");
  const refuse = (errors: Record<string, string>) => data({ errors }, { status: 422 });
  const read =
    typeof json === "string" ? limitSetFromJson(json) : limitSetFromForm(form, await limitQuantities(db));
  if ("message" in read) return refuse({ set: read.message });
  if ("errors" in read) return refuse(read.errors);
  const { set } = read;
  if (await addLimitSet(db, set, context.get(personContext), nowIso()))
    return redirect(`/sites/limits/${set.id}`);
  return refuse(
    typeof json === "string"
      ? { set: `There is a set with the id ${set.id} already.` }
      : { name: "A set of this name is there already: give yours another." },
  );
}

/** What a set of limits looks like, to be changed. */
const exampleSet = JSON.stringify(
  {
    id: "our-limits",
    name: "Our limits",
    authority: "who says so",
    from_memory: false,
    limits: [{ parameter: "oxygen", species: "O2", unit: "mg/L", low: 6, high: null, kind: "expectation" }],
  },
  null,
  2,
);

/** What a value means is read by these: who says so, of what, and how binding it is. */
export default function Limits() {
  const { sets, gone, quantities, rows, zone, mayChange } = useLoaderData<typeof loader>();
  const errors: Record<string, string | undefined> = useActionData<typeof action>()?.errors ?? {};
  const busy = useSending();
  const [shown, setShown] = useState(2);
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Limits</h1>
          <p className="sub">
            Chosen for each site on its page: what a value means, not whether it can be trusted.
          </p>
        </div>
        <Link to="/sites" className="calm">
          All sites
        </Link>
      </div>
      <WideTable name="Sets of limits">
        <table className="figures">
          <thead>
            <tr>
              <th>Whose limits</th>
              <th>What they ask</th>
            </tr>
          </thead>
          <tbody>
            {sets.map((set) => (
              <tr key={set.id}>
                <td>
                  <Link to={`/sites/limits/${set.id}`}>{set.name}</Link>
                  <div className="quiet small">
                    {set.authority}
                    {set.from_memory ? ", from memory" : ""}
                    {set.own ? " · your own" : ""}
                  </div>
                </td>
                <td>
                  {set.limits.map((limit) => (
                    <div key={`${limit.parameter} ${limit.species} ${limit.kind}`}>
                      {limitedQuantity(limit)} <Formula>{endsInWords(limit)}</Formula>
                    </div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
      <OutOfUseList title="No longer used" entries={gone} zone={zone} />
      {mayChange && (
        <section className="stack close" aria-label="Limits of your own">
          <h2>Limits of your own</h2>
          <Form method="post" className="sheet stack">
            <div className="two">
              <TextField name="name" label="Name" hint="Our permit, bathing water." wrong={errors.name} />
              <TextField
                name="authority"
                label="Who says so"
                hint="The permit, the law or the rule, with its year."
                wrong={errors.authority}
              />
            </div>
            {Array.from({ length: shown }, (_, row) => (
              <LimitRow key={row} row={row} quantities={quantities} errors={errors} />
            ))}
            {shown < rows && (
              <div className="cluster">
                <button type="button" className="calm strong" onClick={() => setShown(shown + 1)}>
                  Another limit
                </button>
              </div>
            )}
            {errors.limits && (
              <p className="wrong" role="alert">
                {errors.limits}
              </p>
            )}
            <Checkbox name="from_memory">The figures are from memory and not looked up</Checkbox>
            <div className="cluster">
              <button type="submit" className="act small" disabled={busy}>
                Keep the limits
              </button>
            </div>
          </Form>
          <details className="limit-choice" open={errors.set ? true : undefined}>
            <summary>From a document (JSON)</summary>
            <Form method="post" className="form">
              <div className="field">
                <label htmlFor="limit-set">A set of limits, as JSON</label>
                <Input.TextArea
                  id="limit-set"
                  name="limit-set"
                  rows={9}
                  className="m"
                  defaultValue={exampleSet}
                />
                {errors.set && (
                  <p className="wrong" role="alert">
                    {errors.set}
                  </p>
                )}
              </div>
              <button type="submit" className="calm strong" disabled={busy}>
                Add the set
              </button>
            </Form>
          </details>
        </section>
      )}
    </main>
  );
}

const nothing = "";

/** One limit: of what, between which ends, how binding. */
function LimitRow({
  row,
  quantities,
  errors,
}: {
  row: number;
  quantities: readonly string[];
  errors: Record<string, string | undefined>;
}) {
  return (
    <fieldset className="limit-row">
      <legend className="hidden">Limit {row + 1}</legend>
      <ChoiceField
        name={`of-${row}`}
        label={row === 0 ? "Of what" : `And of what, ${row + 1}`}
        options={[
          { value: nothing, label: "–" },
          ...quantities.map((label, i) => ({ value: String(i), label })),
        ]}
        initial={nothing}
      />
      <TextField name={`low-${row}`} label="At least" wrong={errors[`low-${row}`]} mono />
      <TextField name={`high-${row}`} label="At most" wrong={errors[`high-${row}`]} mono />
      <ChoiceField
        name={`kind-${row}`}
        label="It is"
        options={(Object.keys(limitKinds) as (keyof typeof limitKinds)[]).map((value) => ({
          value,
          label: { limit: "a limit", guideline: "a guideline", expectation: "an expectation" }[value],
        }))}
        initial="limit"
      />
    </fieldset>
  );
}

import { useSending } from "../../ui/useSending";
import "./visits.css";
import { Checkbox, Select } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { localDate } from "../../../core/time/local";
import { listPeople } from "../../server/people/people.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { sitesInUse } from "../../server/sites/sites.server";
import { planRules } from "../../server/visits/planForm.server";
import { planRound } from "../../server/visits/rounds.server";
import { templatesInUse } from "../../server/visits/templates.server";
import { lastPlans, visitedSites } from "../../server/visits/visits.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { DayField } from "../../ui/DayField";
import { sampleName } from "../../ui/sampleName";
import { TextField } from "../../ui/TextField";
import type { Route } from "./+types/newRound";

export const meta: Route.MetaFunction = () => [{ title: "Plan a round · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const sites = await sitesInUse(db);
  const visited = await visitedSites(db);
  // From downstream to upstream: what is stirred up does not reach the water that is still to be taken.
  const upstream = [...sites].reverse().map(({ id, name }) => ({ id, name, known: visited.has(id) }));
  return {
    id: ulid(),
    today: localDate(nowIso(), (await rulesInForce(db)).rules.zone),
    me: context.get(personContext).id,
    people: (await listPeople(db)).map((p) => ({ value: p.id, label: p.name })),
    sites: upstream,
    templates: (await templatesInUse(db)).map(({ id, name }) => ({ value: id, label: name })),
  };
}

const formSchema = z.object({
  id: z.ulid(),
  name: z
    .string()
    .trim()
    .min(1, { error: "Give the round a name." })
    .max(80, { error: "Keep the name under 81 characters." }),
  on_date: z.iso.date({ error: "Choose the day of the round." }),
  person: z.string().min(1, { error: "Say who goes." }),
  sites: z.array(z.string().max(60)).min(1, { error: "Choose at least one site." }).max(40),
  order: z.enum(["upstream", "downstream"]),
});

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const read = formSchema.safeParse({ ...Object.fromEntries(form), sites: form.getAll("sites").map(String) });
  const refuse = (message: string) => data({ message }, { status: 422 });
  if (!read.success) return refuse(read.error.issues[0]?.message ?? "");
  const { id, name, on_date, person, order } = read.data;
  if (!(await listPeople(db)).some((p) => p.id === person))
    return refuse("This person is gone. Choose another.");
  const templates = await templatesInUse(db);
  const rules = planRules((await rulesInForce(db)).rules);
  const chosen = (await sitesInUse(db)).filter((s) => read.data.sites.includes(s.id));
  const lasts = await lastPlans(
    db,
    chosen.map((s) => s.id),
  );
  const stops = [];
  for (const site of order === "upstream" ? chosen.reverse() : chosen) {
    const template = templates.find((t) => t.id === form.get(`list-${site.id}`));
    const plan = template?.plan ?? lasts.get(site.id);
    if (!plan) return refuse(`${site.name} has no list yet: choose a template for it.`);
    stops.push({
      site_id: site.id,
      site: site.name,
      short: sampleName(site.name, on_date),
      plan: { ...plan, ...rules },
    });
  }
  if (stops.length === 0) return refuse("Choose at least one site.");
  await planRound(db, { id, on_date, name, person_id: person }, stops, context.get(personContext), nowIso());
  return redirect(`/visits/rounds/${id}`);
}

export default function NewRound() {
  const { id, today, me, people, sites, templates } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const [chosen, setChosen] = useState<string[]>([]);
  return (
    <main className="narrow stack">
      <div>
        <h1>Plan a round</h1>
        <p className="sub">
          Several sites on one trip: their order, what is done at each, who goes, the labels and the kit.
        </p>
      </div>
      <Form method="post" className="sheet stack">
        <input type="hidden" name="id" value={id} />
        <div className="two">
          <TextField name="name" label="Name of the round" />
          <DayField name="on_date" label="Day" initial={today} />
        </div>
        <div className="two">
          <ChoiceField name="person" label="Who goes" options={people} initial={me} />
          <ChoiceField
            name="order"
            label="In which order"
            options={[
              { value: "upstream", label: "Downstream first, going up" },
              { value: "downstream", label: "Upstream first, going down" },
            ]}
            initial="upstream"
            hint="Going up, what is stirred up does not reach water still to be taken."
          />
        </div>
        <fieldset className="round-sites">
          <legend>Where to</legend>
          {sites.map((s) => (
            <div key={s.id} className="cluster apart">
              <Checkbox
                name="sites"
                value={s.id}
                checked={chosen.includes(s.id)}
                onChange={(e) =>
                  setChosen(e.target.checked ? [...chosen, s.id] : chosen.filter((c) => c !== s.id))
                }
              >
                {s.name}
              </Checkbox>
              {chosen.includes(s.id) && <ListOf site={s} templates={templates} />}
            </div>
          ))}
        </fieldset>
        {sites.length === 0 && (
          <p className="note">
            <Link to="/sites">Say first where you take your water</Link>, then a round can be planned.
          </p>
        )}
        {answer && (
          <p className="wrong" role="alert">
            {answer.message}
          </p>
        )}
        <div className="cluster">
          <button type="submit" className="act" disabled={busy}>
            Plan it
          </button>
        </div>
      </Form>
    </main>
  );
}

/** By which list a site of the round is worked. */
function ListOf({
  site,
  templates,
}: {
  site: { id: string; name: string; known: boolean };
  templates: { value: string; label: string }[];
}) {
  const [list, setList] = useState("");
  return (
    <>
      <input type="hidden" name={`list-${site.id}`} value={list} />
      <Select
        aria-label={`List for ${site.name}`}
        size="large"
        className="search"
        value={list}
        options={[
          { value: "", label: site.known ? "As the last time there" : "Choose a template" },
          ...templates,
        ]}
        onChange={setList}
      />
    </>
  );
}

import { useSending } from "../../ui/useSending";
import "./visits.css";
import { Select } from "antd";
import { data, Form, Link, redirect, useActionData, useLoaderData, useNavigate } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { localDate } from "../../../core/time/local";
import { showDate, showTime } from "../../../core/time/words";
import { startRefusal } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { listMethods } from "../../server/runs/methods.server";
import { bottleTypesInUse } from "../../server/samples/bottleTypes.server";
import { findSite, sitesInUse } from "../../server/sites/sites.server";
import { planFromForm } from "../../server/visits/planForm.server";
import { nextRounds, roundsCalledOff } from "../../server/visits/rounds.server";
import { allTemplates, keepTemplate } from "../../server/visits/templates.server";
import { lastPlan, recentVisits, startVisit } from "../../server/visits/visits.server";
import { OutOfUse, OutOfUseList, TakeOutOfUse } from "../../ui/OutOfUse";
import { TextField } from "../../ui/TextField";
import { visitWords } from "../../ui/visitWords";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/visits";
import { PlanFields } from "./PlanFields";

export const meta: Route.MetaFunction = () => [{ title: "Visits · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const sites = (await sitesInUse(db)).map(({ id, name }) => ({ id, name }));
  const site = sites.find((s) => s.id === url.searchParams.get("site")) ?? sites[0];
  const methods = (await listMethods(db)).flatMap(({ method }) =>
    method.measure.technique === "meter" ? [] : [{ id: method.id, name: method.name }],
  );
  const templates = await allTemplates(db);
  const template = templates.find((t) => t.id === url.searchParams.get("template")) ?? null;
  const zone = (await rulesInForce(db)).rules.zone;
  const today = localDate(nowIso(), zone);
  return {
    sites,
    site: site?.id ?? null,
    methods,
    bottles: (await bottleTypesInUse(db)).map(({ id, name }) => ({ id, name })),
    templates: templates.flatMap(({ id, name, out_of_use }) =>
      out_of_use && id !== template?.id ? [] : [{ id, name }],
    ),
    template: template?.id ?? null,
    templateOut: template?.out_of_use ?? null,
    goneTemplates: templates.flatMap(({ id, name, out_of_use: out }) =>
      out ? [{ href: `/visits?template=${id}`, name, out }] : [],
    ),
    kept: url.searchParams.get("kept")?.slice(0, 80) ?? null,
    plan: template?.plan ?? (site ? await lastPlan(db, site.id) : null),
    rounds: await nextRounds(db, today),
    calledOff: await roundsCalledOff(db, today),
    visits: await recentVisits(db),
    zone,
    ids: { work: ulid(), event: ulid() },
  };
}

const formSchema = z.object({
  do: z.enum(["begin", "template"]).catch("begin"),
  work: z.ulid(),
  event: z.ulid(),
  site: z.string().min(1, { error: "Choose the site you go to." }).max(60),
  template_name: z
    .string()
    .trim()
    .max(80, { error: "Keep the template's name under 81 characters." })
    .default(""),
});

export async function action({ request, url, context }: Route.ActionArgs) {
  const [db, actor] = [context.get(dbContext), context.get(personContext)];
  const form = await request.formData();
  const refuse = (message: string) => data({ message }, { status: 422 });
  const by = url.searchParams.get("template");
  const template = by ? (await allTemplates(db)).find((t) => t.id === by) : undefined;
  const inUse = template && (await inUseByForm(db, "visit-templates", template.id, form, actor, nowIso()));
  if (inUse?.message) return refuse(inUse.message);
  if (inUse) return redirect(`/visits?${new URLSearchParams({ site: url.searchParams.get("site") ?? "" })}`);
  const parsed = formSchema.safeParse(Object.fromEntries(form));
  if (!parsed.success) return refuse(parsed.error.issues[0]?.message ?? "");
  const site = await findSite(db, parsed.data.site);
  if (!site) return refuse("This site is gone. Choose another.");
  const read = await planFromForm(db, form, (await rulesInForce(db)).rules);
  if ("message" in read) return refuse(read.message);
  const { work, event, template_name: name } = parsed.data;
  if (parsed.data.do === "template") {
    if (!name) return refuse("Give the template a name.");
    const kept = await keepTemplate(db, name, read.plan, actor, nowIso());
    return redirect(
      `/visits?${new URLSearchParams({ site: site.id, template: kept.id, kept: kept.name }).toString()}`,
    );
  }
  const start = { work_id: work, event_id: event, actor, at: nowIso() };
  const refused = await startVisit(db, start, site, read.plan).catch(startRefusal);
  return refused ? refuse(refused) : redirect(`/visits/${work}`);
}

export default function Visits() {
  const loaded = useLoaderData<typeof loader>();
  const { sites, visits, rounds, calledOff, templateOut, goneTemplates, zone } = loaded;
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Visits</h1>
          <p className="sub">What happens at a site on one trip: arrive, look, measure, fill, leave.</p>
        </div>
        <div className="cluster">
          <Link to="/visits/rounds/new" className="calm strong">
            Plan a round
          </Link>
          <Link to="/visits/purge-table" className="calm strong">
            Purge table
          </Link>
        </div>
      </div>
      {sites.length === 0 ? (
        <p className="note">
          <Link to="/sites">Say first where you take your water</Link>, then a visit can be planned.
        </p>
      ) : (
        <PlanVisit {...loaded} site={loaded.site ?? ""} />
      )}
      {loaded.template &&
        (templateOut ? (
          <OutOfUse
            out={templateOut}
            zone={zone}
            what="This list is offered nowhere. Visits that went by it stay as they are."
          />
        ) : (
          <TakeOutOfUse
            summary="This list is used no more"
            hint="It is offered nowhere any more. Visits and rounds that go by it stay as they are, and it can be taken into use again."
          />
        ))}
      {rounds.length > 0 && (
        <section className="stack close" aria-label="Rounds">
          <h2>Rounds</h2>
          <ul className="list">
            {rounds.map((r) => (
              <li key={r.id}>
                <div className="unmarked">
                  <Link to={`/visits/rounds/${r.id}`} className="name plainlink">
                    {r.name}
                  </Link>
                  <div className="quiet small">
                    {showDate(r.on_date, "weekday")}, {r.person}: {r.stops.map((s) => s.site).join(", ")}
                  </div>
                </div>
              </li>
            ))}
          </ul>
        </section>
      )}
      <OutOfUseList title="Called off" entries={calledOff} zone={zone} />
      <OutOfUseList title="Lists that are used no more" entries={goneTemplates} zone={zone} />
      <section className="stack close" aria-label="Lately">
        <h2>Lately</h2>
        {visits.length === 0 && <p className="quiet">Nobody has been anywhere yet.</p>}
        {visits.length > 0 && (
          <WideTable name="Visits">
            <table className="figures">
              <thead>
                <tr>
                  <th>Site</th>
                  <th>When</th>
                  <th>How it went</th>
                </tr>
              </thead>
              <tbody>
                {visits.map((v) => (
                  <tr key={v.id}>
                    <td>
                      <Link to={`/visits/${v.id}`}>{v.site}</Link>
                    </td>
                    <td className="nowrap">{showTime(v.arrived_at ?? v.started_at, zone, "both")}</td>
                    <td>{visitWords(v)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        )}
      </section>
    </main>
  );
}

type Loaded = ReturnType<typeof useLoaderData<typeof loader>>;

/** What to do at a site: a template, or the list of the last visit there, to be changed. */
function PlanVisit({
  site,
  sites,
  methods,
  bottles,
  templates,
  template,
  kept,
  plan,
  ids,
}: Omit<Loaded, "site" | "templateOut" | "goneTemplates"> & { site: string }) {
  const answer = useActionData<typeof action>();
  const busy = useSending();
  // Site and template are in the address: each brings its own list.
  const navigate = useNavigate();
  const go = (next: { site?: string; template?: string | undefined }) => {
    const query = new URLSearchParams(
      Object.entries({ site, template: template ?? undefined, ...next }).flatMap(([k, v]) =>
        v ? [[k, v]] : [],
      ),
    );
    navigate(`?${query}`, { replace: true, preventScrollReset: true });
  };
  return (
    <Form method="post" className="sheet stack visit-plan" key={`${site} ${template}`}>
      <input type="hidden" name="work" value={ids.work} />
      <input type="hidden" name="event" value={ids.event} />
      <input type="hidden" name="site" value={site} />
      <div className="two">
        <div className="field">
          <label htmlFor="visit-site">Where to</label>
          <Select
            id="visit-site"
            size="large"
            showSearch
            optionFilterProp="label"
            value={site}
            options={sites.map((s) => ({ value: s.id, label: s.name }))}
            onChange={(id: string) => go({ site: id })}
          />
          <div className="hint">
            {template
              ? "By the template; change what is different."
              : plan
                ? "As the last time there; change what is different."
                : "Choose what to do there."}
          </div>
        </div>
        {templates.length > 0 && (
          <div className="field">
            <label htmlFor="visit-template">By which list</label>
            <Select
              id="visit-template"
              size="large"
              value={template ?? ""}
              options={[
                { value: "", label: "As the last time there" },
                ...templates.map((t) => ({ value: t.id, label: t.name })),
              ]}
              onChange={(id: string) => go({ template: id || undefined })}
            />
          </div>
        )}
      </div>
      <PlanFields methods={methods} bottles={bottles} plan={plan} />
      {answer && "message" in answer && (
        <p className="wrong" role="alert">
          {answer.message}
        </p>
      )}
      <div className="cluster">
        <button type="submit" name="do" value="begin" className="act" disabled={busy}>
          Begin the visit
        </button>
      </div>
      <details className="take-out">
        <summary>Keep this list as a template</summary>
        <div className="stack close">
          <TextField
            name="template_name"
            label="Name of the template"
            hint="The same name again keeps a new version."
          />
          <div className="cluster">
            <button type="submit" name="do" value="template" className="calm strong" disabled={busy}>
              Keep the list
            </button>
          </div>
        </div>
      </details>
      {kept && (
        <p role="status" className="quiet">
          “{kept}” is kept.
        </p>
      )}
    </Form>
  );
}

import "./visits.css";
import { Checkbox, Select } from "antd";
import {
  data,
  Form,
  Link,
  redirect,
  useActionData,
  useLoaderData,
  useNavigate,
  useNavigation,
} from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { resultsOf } from "../../../core/methods/methodWords";
import { type Measurand, measurandFacts, measurands } from "../../../core/quantity/measurand";
import { bottleTypeOf, bottleTypes } from "../../../core/samples/bottleTypes";
import type { VisitPlan } from "../../../core/samples/visitEvents";
import { showTime } from "../../../core/time/words";
import { startRefusal } from "../../server/bench/bench.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { listMethods } from "../../server/runs/methods.server";
import { findSite, listSites } from "../../server/sites/sites.server";
import { lastPlan, recentVisits, startVisit } from "../../server/visits/visits.server";
import { ManyField } from "../../ui/ManyField";
import { visitWords } from "../../ui/visitWords";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/visits";

export const meta: Route.MetaFunction = () => [{ title: "Visits · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const sites = (await listSites(db)).map(({ id, name }) => ({ id, name }));
  const site = sites.find((s) => s.id === url.searchParams.get("site")) ?? sites[0];
  const methods = (await listMethods(db)).flatMap(({ method }) =>
    method.measure.technique === "meter" ? [] : [{ id: method.id, name: method.name }],
  );
  return {
    sites,
    site: site?.id ?? null,
    methods,
    plan: site ? await lastPlan(db, site.id) : null,
    visits: await recentVisits(db),
    zone: (await rulesInForce(db)).rules.zone,
    ids: { work: ulid(), event: ulid() },
  };
}

const inPlace: readonly Measurand[] = measurands.filter((m) => m !== "absorbance" && m !== "volume");

const planFormSchema = z.object({
  work: z.ulid(),
  event: z.ulid(),
  site: z.string().min(1, { error: "Choose the site you go to." }).max(60),
  measurands: z.array(z.enum(measurands)),
  methods: z.array(z.string().max(60)).max(40, { error: "Forty tests are what one visit holds." }),
  bottles: z.array(z.string().max(60)).max(40, { error: "Forty bottles are what one visit holds." }),
  also: z.array(z.enum(["air", "look", "clarity", "well"])),
});

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const list = (name: string) => form.getAll(name).map(String).filter(Boolean);
  const parsed = planFormSchema.safeParse({
    ...Object.fromEntries(form),
    measurands: list("measurands"),
    methods: list("methods"),
    bottles: list("bottles"),
    also: list("also"),
  });
  const refuse = (message: string) => data({ message }, { status: 422 });
  if (!parsed.success) return refuse(parsed.error.issues[0]?.message ?? "");
  const site = await findSite(db, parsed.data.site);
  if (!site) return refuse("This site is gone. Choose another.");
  const known = new Map((await listMethods(db)).map(({ method }) => [method.id, method]));
  const { also, measurands: wanted, work, event } = parsed.data;
  const plan: VisitPlan = {
    air: also.includes("air"),
    look: also.includes("look"),
    clarity: also.includes("clarity"),
    measurands: wanted,
    methods: parsed.data.methods.flatMap((id) => {
      const method = known.get(id);
      if (!method) return [];
      return [{ id, name: method.name, parameters: resultsOf(method).map((r) => r.parameter) }];
    }),
    bottles: parsed.data.bottles.flatMap((id) => bottleTypeOf(id) ?? []),
    labels: [],
    well: also.includes("well") ? { volumes: 3, rounds: 3 } : null,
  };
  if (wanted.length + plan.methods.length + plan.bottles.length + also.length === 0)
    return refuse("Choose at least one thing to do there.");
  const start = { work_id: work, event_id: event, actor: context.get(personContext), at: nowIso() };
  const refused = await startVisit(db, start, site, plan).catch(startRefusal);
  return refused ? refuse(refused) : redirect(`/visits/${work}`);
}

const alsoWords = {
  air: "Air temperature",
  look: "Look and smell",
  well: "Purge a well",
  clarity: "Clarity",
} as const;

export default function Visits() {
  const { sites, site, methods, plan, visits, zone, ids } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div>
        <h1>Visits</h1>
        <p className="sub">What happens at a site on one trip: arrive, look, measure, fill, leave.</p>
      </div>
      {sites.length === 0 ? (
        <p className="note">
          <Link to="/sites">Say first where you take your water</Link>, then a visit can be planned.
        </p>
      ) : (
        <PlanVisit site={site ?? ""} sites={sites} methods={methods} plan={plan} ids={ids} />
      )}
      <section className="stack close">
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

/** What to do at a site: the list of the last visit there, to be changed. */
function PlanVisit({
  site,
  sites,
  methods,
  plan,
  ids,
}: Pick<Loaded, "sites" | "methods" | "plan" | "ids"> & { site: string }) {
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  // The site is in the address: each brings the list of its last visit.
  const navigate = useNavigate();
  const also = {
    air: plan?.air ?? true,
    look: plan?.look ?? true,
    well: plan ? plan.well !== null : false,
    clarity: plan?.clarity ?? false,
  };
  return (
    <Form method="post" className="sheet stack visit-plan" key={site}>
      <input type="hidden" name="work" value={ids.work} />
      <input type="hidden" name="event" value={ids.event} />
      <input type="hidden" name="site" value={site} />
      <div className="field">
        <label htmlFor="visit-site">Where to</label>
        <Select
          id="visit-site"
          size="large"
          showSearch
          optionFilterProp="label"
          value={site}
          options={sites.map((s) => ({ value: s.id, label: s.name }))}
          onChange={(id: string) => navigate(`?site=${encodeURIComponent(id)}`, { replace: true })}
        />
        <div className="hint">
          {plan ? "As the last time there; change what is different." : "Choose what to do there."}
        </div>
      </div>
      <fieldset className="visit-choices">
        <legend>At the site</legend>
        {(Object.keys(alsoWords) as (keyof typeof alsoWords)[]).map((key) => (
          <Checkbox key={key} name="also" value={key} defaultChecked={also[key]}>
            {alsoWords[key]}
          </Checkbox>
        ))}
      </fieldset>
      <fieldset className="visit-choices">
        <legend>Read in place</legend>
        {inPlace.map((m) => (
          <Checkbox
            key={m}
            name="measurands"
            value={m}
            defaultChecked={plan ? plan.measurands.includes(m) : ["ph", "temperature"].includes(m)}
          >
            {measurandFacts[m].name}
          </Checkbox>
        ))}
      </fieldset>
      <fieldset className="visit-choices">
        <legend>Bottles</legend>
        {bottleTypes.map((type) => (
          <Checkbox
            key={type.id}
            name="bottles"
            value={type.id}
            defaultChecked={plan?.bottles.some((b) => b.id === type.id) ?? false}
          >
            {type.name}
          </Checkbox>
        ))}
      </fieldset>
      <ManyField
        name="methods"
        label="Tests, there or from its bottles"
        options={methods.map((m) => ({ value: m.id, label: m.name }))}
        initial={plan?.methods.map((m) => m.id) ?? []}
      />
      {answer && "message" in answer && (
        <p className="wrong" role="alert">
          {answer.message}
        </p>
      )}
      <div className="cluster">
        <button type="submit" className="act" disabled={busy}>
          Begin the visit
        </button>
      </div>
    </Form>
  );
}

import { useSending } from "../../ui/useSending";
import "./sites.css";
import { data, Form, Link, useActionData, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import { readSitesGeoJson } from "../../../core/samples/site";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { siteFromForm } from "../../server/sites/siteForm.server";
import { importSites } from "../../server/sites/sitePlace.server";
import { addSite, allSites } from "../../server/sites/sites.server";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { OutOfUseList } from "../../ui/OutOfUse";
import { SiteFields } from "../../ui/SiteFields";
import type { Route } from "./+types/sites";
import { WaterLines } from "./WaterLines";

export const meta: Route.MetaFunction = () => [{ title: "Sites · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => {
  const db = context.get(dbContext);
  const sites = await allSites(db);
  return {
    sites: sites.filter((s) => !s.out_of_use),
    closed: sites.flatMap(({ id, name, out_of_use }) =>
      out_of_use ? [{ href: `/sites/${id}`, name, out: out_of_use }] : [],
    ),
    zone: (await rulesInForce(db)).rules.zone,
  };
};

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const file = form.get("geojson");
  if (file !== null) {
    const text = file instanceof File ? await file.text() : file;
    const read = readSitesGeoJson(text);
    if ("message" in read) return data({ errors: { geojson: read.message }, added: "" }, { status: 422 });
    const { placed, added } = await importSites(
      context.get(dbContext),
      read.sites,
      context.get(personContext),
      nowIso(),
    );
    const taken = `${counted(placed, "site")} placed, ${added} added.`;
    return data({ errors: {} as Record<string, string>, added: "geojson", taken });
  }
  const parsed = siteFromForm(form);
  if (!parsed.success) return data({ errors: fieldErrors(parsed.error), added: "" }, { status: 422 });
  const site = await addSite(context.get(dbContext), parsed.data, context.get(personContext), nowIso());
  if (!site)
    return data({ errors: { name: "There is a site of this name already." }, added: "" }, { status: 422 });
  return data({ errors: {} as Record<string, string>, added: site.id });
}

export default function Sites() {
  const { sites, closed, zone } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useSending();
  return (
    <>
      <main className="stack">
        <div>
          <h1>Sites</h1>
          <p className="sub">
            In the order of the water. What you expect there decides which standards are proposed, and which
            values are asked about. <Link to="/sites/along">One quantity along the water</Link> shows where
            something flows in; <Link to="/sites/limits">the limits</Link> say what a value means.
          </p>
        </div>
        <ul className="list">
          {sites.map((site) => (
            <li key={site.id}>
              <span className="m quiet">{site.position}</span>
              <div>
                <Link to={`/sites/${site.id}`} className="name plainlink">
                  {site.name}
                </Link>
                <div className="quiet small">{site.water}</div>
              </div>
              <div className="value">
                {site.expected.ph
                  ? `${site.expected.ph.low.toFixed(1)} – ${site.expected.ph.high.toFixed(1)}`
                  : "–"}{" "}
                <small>
                  pH
                  {site.expected.conductivity
                    ? ` · ${site.expected.conductivity.low} – ${site.expected.conductivity.high} µS/cm`
                    : ""}
                </small>
              </div>
              <Link className="calm go" to={`/ledger?site=${site.id}`}>
                Readings
              </Link>
            </li>
          ))}
          {sites.length === 0 && <li className="empty">No site yet. Add the first one below.</li>}
        </ul>
        <OutOfUseList title="No longer sampled" entries={closed} zone={zone} />
        <details className="limit-choice" open={errors.geojson ? true : undefined}>
          <summary>Sites as GeoJSON</summary>
          <div className="stack">
            <p>
              <a href="/sites/sites.geojson" download>
                All sites as a file
              </a>
            </p>
            <Form method="post" encType="multipart/form-data" className="form">
              <div className="field">
                <label htmlFor="geojson">Take a file over: places of known sites, and new ones</label>
                <input
                  id="geojson"
                  name="geojson"
                  type="file"
                  accept=".geojson,.json,application/geo+json"
                  required
                />
                {errors.geojson && (
                  <p className="wrong" role="alert">
                    {errors.geojson}
                  </p>
                )}
              </div>
              <button type="submit" className="calm strong" disabled={busy}>
                Take it over
              </button>
              {answer && "taken" in answer && <p role="status">{String(answer.taken)}</p>}
            </Form>
          </div>
        </details>
        <section className="stack close" aria-label="Add a site">
          <h2>Add a site</h2>
          <Form method="post" className="form sheet" key={answer?.added ?? ""}>
            <SiteFields errors={errors} />
            <button type="submit" className="act small" disabled={busy}>
              Add it
            </button>
          </Form>
        </section>
      </main>
      {sites.length > 1 && (
        <EvidencePanel title="The water">
          <WaterLines sites={sites} />
        </EvidencePanel>
      )}
    </>
  );
}

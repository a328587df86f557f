import { lazyPart } from "../../ui/lazyPart";
import { useSending } from "../../ui/useSending";
import "./sites.css";
import { Checkbox } from "antd";
import { data, Form, Link, useActionData, useLoaderData, useNavigate } from "react-router";
import { expectable, measurandFacts } from "../../../core/quantity/measurand";
import { showResult } from "../../../core/quantity/showResult";
import { photoLimits, sitePhotoSchema } from "../../../core/samples/photo";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { changeSite, moveSite, siteChangeFromForm } from "../../server/sites/siteChanges.server";
import { loadSite, type SitePage } from "../../server/sites/sitePage.server";
import { addSitePhoto, removeSitePhoto } from "../../server/sites/sitePhotos.server";
import { changePlace, placeFromForm } from "../../server/sites/sitePlace.server";
import { chooseLimitSets } from "../../server/sites/sites.server";
import { InBrowser } from "../../ui/charts/InBrowser";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { OutOfUse, TakeOutOfUse } from "../../ui/OutOfUse";
import { Sparkline } from "../../ui/Sparkline";
import { TextField } from "../../ui/TextField";
import { VerdictMark } from "../../ui/VerdictMark";
import { visitWords } from "../../ui/visitWords";
import type { Route } from "./+types/site";
import { ComplianceTable } from "./ComplianceTable";
import { PlaceForm } from "./PlaceForm";
import { SitePhotos } from "./SitePhotos";

const ValuesChart = lazyPart(() => import("../../ui/charts/ValuesChart"));

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.site.name ?? "Site"} · Brintel` },
];

export async function loader({ params, url, context }: Route.LoaderArgs) {
  const page = await loadSite(context.get(dbContext), params.siteId, url.searchParams.get("of"), nowIso());
  if (!page) throw new Response("No such site", { status: 404 });
  return page;
}

type Errors = Record<string, string>;

/** `limits` chooses by whose limits results are read, `up` and `down` move it along the water, `keep` changes what is known of it. */
export async function action({ params, request, context }: Route.ActionArgs) {
  const [db, actor] = [context.get(dbContext), context.get(personContext)];
  const form = await request.formData();
  const intent = form.get("do");
  const none: Errors = {};
  const inUse = await inUseByForm(db, "sites", params.siteId, form, actor, nowIso());
  if (inUse) {
    const { message } = inUse;
    return data(
      { errors: none, kept: "", of: "use", ...(message ? { message } : {}) },
      { status: message ? 422 : 200 },
    );
  }
  if (intent === "limits") {
    await chooseLimitSets(db, params.siteId, form.getAll("set").map(String), actor, nowIso());
    return data({ errors: none, kept: "The limits are kept.", of: "limits" });
  }
  if (intent === "up" || intent === "down") {
    await moveSite(db, params.siteId, intent === "up" ? -1 : 1, actor, nowIso());
    return data({ errors: none, kept: "", of: "order" });
  }
  if (intent === "photo") {
    const read = sitePhotoSchema.safeParse({
      image: textField(form, "image"),
      caption: textField(form, "caption"),
    });
    const answer = read.success ? await addSitePhoto(db, params.siteId, read.data, actor, nowIso()) : "wrong";
    if (answer === "gone") throw new Response("No such site", { status: 404 });
    if (answer === "kept") return data({ errors: none, kept: "The photo is kept.", of: "photo" });
    const errors = read.success
      ? { image: `${photoLimits.ofSite} photos are what one site keeps. Take one down first.` }
      : fieldErrors(read.error);
    if (textField(form, "image") === "") errors.image = "Choose a photo first.";
    return data({ errors, kept: "", of: "photo" }, { status: 422 });
  }
  if (intent === "photo-down") {
    await removeSitePhoto(db, params.siteId, textField(form, "photo"), actor, nowIso());
    return data({ errors: none, kept: "The photo is taken down.", of: "photo" });
  }
  if (intent === "place") {
    const read = placeFromForm(form);
    if (!read.success)
      return data({ errors: fieldErrors(read.error), kept: "", of: "place" }, { status: 422 });
    if (!(await changePlace(db, params.siteId, read.data, actor, nowIso())))
      throw new Response("No such site", { status: 404 });
    return data({ errors: none, kept: "Where it lies is kept.", of: "place" });
  }
  const parsed = siteChangeFromForm(form);
  if (!parsed.success)
    return data({ errors: fieldErrors(parsed.error), kept: "", of: "site" }, { status: 422 });
  const answer = await changeSite(db, params.siteId, parsed.data, actor, nowIso());
  if (answer === "gone") throw new Response("No such site", { status: 404 });
  if (answer === "taken") {
    const errors: Errors = { name: "There is a site of this name already." };
    return data({ errors, kept: "", of: "site" }, { status: 422 });
  }
  return data({ errors: none, kept: "Kept. It holds for what is measured from now on.", of: "site" });
}

export default function SitePageView() {
  const { site, photos, place, of, quantities, visits, compliance, chart, zone, limitSets } =
    useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  // What was kept is said at the form it was kept by.
  const keptOf = (form: string) => (answer?.of === form ? answer.kept : "");
  const busy = useSending();
  const navigate = useNavigate();
  return (
    <>
      <main className="stack">
        <div className="pagehead">
          <div>
            <h1>{site.name}</h1>
            <p className="sub">
              {site.water}
              {site.out_of_use ? "" : `, place ${place.at} of ${place.of} along the water`}
              {site.place.branch && `, ${site.place.branch}`}
              {site.place.km === null ? "" : `, km ${site.place.km}`}
              {site.altitude_m === null ? "" : `, ${site.altitude_m} m above the sea`}
            </p>
          </div>
          <div className="cluster">
            <Link to={`/ledger?site=${site.id}`} className="calm">
              Its ledger
            </Link>
            <Link to={`/sites/${site.id}/report`} className="calm">
              As a report
            </Link>
            {!site.out_of_use && (
              <Form method="post" className="cluster">
                <button type="submit" name="do" value="up" className="calm" disabled={busy || place.at === 1}>
                  Move up
                </button>
                <button
                  type="submit"
                  name="do"
                  value="down"
                  className="calm"
                  disabled={busy || place.at === place.of}
                >
                  Move down
                </button>
              </Form>
            )}
          </div>
        </div>
        {site.out_of_use && (
          <OutOfUse
            out={site.out_of_use}
            zone={zone}
            what="It is offered nowhere, and does not count on the page of the day. What was measured here stays."
          />
        )}
        {quantities.length === 0 ? (
          <p className="sheet">
            Nothing was measured here{site.out_of_use ? "." : " yet. "}
            {!site.out_of_use && (
              <>
                <Link to="/meters">Choose a meter</Link> or <Link to="/runs">a method</Link> to begin.
              </>
            )}
          </p>
        ) : (
          <ul className="quantities">
            {quantities.map((q) => (
              <Quantity key={q.reading.id} quantity={q} chosen={q.reading.parameter === of} zone={zone} />
            ))}
          </ul>
        )}
        {chart && (
          <section className="stack close" aria-label={`${chart.analyte} in twelve weeks`}>
            <h2>
              <Formula>{chart.analyte}</Formula>, last twelve weeks
            </h2>
            <InBrowser>
              <ValuesChart
                chart={chart}
                zone={zone}
                onOpen={(id) => navigate(`/ledger?site=${site.id}&reading=${id}`)}
              />
            </InBrowser>
          </section>
        )}
        {!chart && quantities.length > 0 && (
          <p className="quiet">
            Nothing of it has a value in the last twelve weeks.{" "}
            <Link to={`/ledger?site=${site.id}`}>Its ledger</Link> goes further back.
          </p>
        )}
        <section className="stack close" aria-label="Visits">
          <div className="cluster apart">
            <h2>Visits</h2>
            {!site.out_of_use && (
              <Link to={`/visits?site=${site.id}`} className="calm strong">
                Plan a visit
              </Link>
            )}
          </div>
          {visits.length === 0 ? (
            <p className="quiet">Nobody has written down a visit here yet.</p>
          ) : (
            <ul className="points">
              {visits.map((v) => (
                <li key={v.id}>
                  <Link to={`/visits/${v.id}`}>{showTime(v.arrived_at ?? v.started_at, zone, "both")}</Link>{" "}
                  <span className="quiet">{visitWords(v)}</span>
                </li>
              ))}
            </ul>
          )}
        </section>
        <ComplianceTable compliance={compliance} zone={zone} />
        <PlaceForm
          site={site}
          errors={answer?.of === "place" ? answer.errors : {}}
          kept={keptOf("place")}
          busy={busy}
        />
        <SitePhotos
          site={site}
          photos={photos}
          zone={zone}
          errors={answer?.of === "photo" ? answer.errors : {}}
          kept={keptOf("photo")}
          busy={busy}
        />
        <section className="sheet stack" aria-label="What you expect here">
          <div>
            <h2>What you expect here</h2>
            <p className="quiet">
              It decides which standards are proposed, and which values are asked about twice. Empty where you
              cannot say.
            </p>
          </div>
          <Form method="post" className="stack" key={`${site.name} ${JSON.stringify(site.expected)}`}>
            <div className="two">
              <TextField
                name="name"
                label="Name of the site"
                initial={site.name}
                wrong={answer?.errors.name}
              />
              <TextField name="water" label="What water" initial={site.water} wrong={answer?.errors.water} />
            </div>
            <div className="expected">
              {expectable.map((m) => (
                <fieldset key={m}>
                  <legend>
                    {measurandFacts[m].name}
                    {m === "ph" ? "" : `, ${measurandFacts[m].unit}`}
                  </legend>
                  <div className="two">
                    {(["low", "high"] as const).map((end) => (
                      <TextField
                        key={end}
                        name={`expected.${m}.${end}`}
                        label={end === "low" ? "from" : "to"}
                        initial={String(site.expected[m]?.[end] ?? "")}
                        wrong={answer?.errors[`expected.${m}.${end}`]}
                        mono
                      />
                    ))}
                  </div>
                </fieldset>
              ))}
              <TextField
                name="altitude_m"
                label="Altitude, m"
                hint="Oxygen needs it when the pressure comes from a weather report."
                initial={String(site.altitude_m ?? "")}
                wrong={answer?.errors.altitude_m}
                mono
              />
            </div>
            <div className="cluster">
              <button type="submit" name="do" value="keep" className="act small" disabled={busy}>
                Keep it
              </button>
              {keptOf("site") && <span role="status">{keptOf("site")}</span>}
            </div>
          </Form>
        </section>
        {!site.out_of_use && (
          <TakeOutOfUse
            summary="This site is sampled no more"
            hint="It is offered nowhere any more, and what you expect here decides no standards. What was measured here stays, and it can be taken into use again."
          />
        )}
      </main>
      <EvidencePanel title="Whose limits hold here">
        <div className="stack">
          <Form method="post" className="stack close" key={site.limit_sets.join()}>
            {limitSets.map((set) => (
              <Checkbox
                key={set.id}
                name="set"
                value={set.id}
                defaultChecked={site.limit_sets.includes(set.id)}
              >
                {set.name}{" "}
                <span className="quiet small">
                  {set.authority}
                  {set.from_memory ? ", from memory" : ""}
                  {set.out ? ", out of use" : ""}
                </span>
              </Checkbox>
            ))}
            <div className="cluster">
              <button type="submit" name="do" value="limits" className="calm strong" disabled={busy}>
                Keep the limits
              </button>
              {keptOf("limits") && <span role="status">{keptOf("limits")}</span>}
            </div>
          </Form>
          <p className="quiet small">
            <Link to="/sites/limits">What each of them says, and limits of your own</Link>
          </p>
        </div>
      </EvidencePanel>
    </>
  );
}

/** The newest value of one quantity with how it went; a press draws it below. */
function Quantity({
  quantity: { reading, meaning, points },
  chosen,
  zone,
}: {
  quantity: SitePage["quantities"][number];
  chosen: boolean;
  zone: string;
}) {
  return (
    <li>
      <Link
        to={`?of=${reading.parameter}`}
        preventScrollReset
        className="quantity plainlink"
        aria-current={chosen || undefined}
      >
        <span className="quiet small">
          <Formula>{reading.analyte}</Formula>
        </span>
        <span className="quantity-value">
          <VerdictMark verdict={reading.verdict} />
          <b className="m">{showResult(reading).replace(/ \(.*/, "")}</b>
          <small className="quiet">
            {/ \(.*/.exec(showResult(reading))?.[0]} {reading.unit === "pH" ? "" : reading.unit}
          </small>
        </span>
        {meaning && <span className="outside small">{meaning.short}</span>}
        <Sparkline points={points} />
        <span className="quiet small">{showTime(reading.measured_at, zone, "both")}</span>
      </Link>
    </li>
  );
}

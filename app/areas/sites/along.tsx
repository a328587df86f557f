import "./along.css";
import { Select } from "antd";
import { Fragment } from "react";
import { Link, useLoaderData, useNavigate } from "react-router";
import { formatNumber, formatOwnDigits } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { loadAlong } from "../../server/sites/alongWater.server";
import { resultHref } from "../../ui/results";
import { VerdictMark } from "../../ui/VerdictMark";
import { withFormulas } from "../../ui/withFormulas";
import type { Route } from "./+types/along";

export const meta: Route.MetaFunction = () => [{ title: "Along the water · Brintel" }];

export const loader = ({ url, context }: Route.LoaderArgs) =>
  loadAlong(context.get(dbContext), url.searchParams.get("of"), nowIso());

/** One quantity from site to site: where it changes more than the sites themselves vary, something flows in. */
export default function Along() {
  const { of, known, unit, decimals, places, steps, zone } = useLoaderData<typeof loader>();
  const navigate = useNavigate();
  const most = Math.max(...places.map((p) => Math.abs(p.value)), 0);
  const written = (value: number) => `${formatNumber(value, decimals)}${unit === "pH" ? "" : ` ${unit}`}`;
  return (
    <main className="stack">
      <div>
        <h1>Along the water</h1>
        <p className="sub">
          The newest value of each site within four weeks, beside how much the site has varied of late.
        </p>
      </div>
      {known.length === 0 ? (
        <p className="sheet">
          Nothing was measured yet. <Link to="/visits">Plan a visit</Link> to begin.
        </p>
      ) : (
        <div className="field along-choice">
          <label htmlFor="along-of">What</label>
          <Select
            id="along-of"
            size="large"
            showSearch
            optionFilterProp="label"
            value={of}
            options={known}
            {...withFormulas}
            onChange={(value: string) => navigate(`?of=${encodeURIComponent(value)}`)}
          />
        </div>
      )}
      {known.length > 0 && places.length < 2 && (
        <p className="note">At least two sites need a value of the last four weeks.</p>
      )}
      {places.length > 0 && (
        <ol className="along sheet">
          {places.map((place, i) => {
            const step = steps.find((s) => s.below === place.site);
            const above = places[i - 1];
            return (
              <Fragment key={place.site}>
                {place.branch !== (above?.branch ?? "") && (
                  <li className="along-arm">
                    <b>{place.branch || "The main water"}</b>
                  </li>
                )}
                {step && (
                  <li className="along-step">
                    <b className="m">
                      {step.change > 0 ? "+" : "−"}
                      {written(Math.abs(step.change))}
                    </b>{" "}
                    here; {written(step.explained)} would be explained. Go upstream from {place.name} and
                    measure between the two
                    {step.half_km !== null && `, about ${formatNumber(step.half_km, 2)} km up`}.
                  </li>
                )}
                <li>
                  <Link to={`/sites/${place.site}`} className="name plainlink">
                    {place.name}
                    {place.km !== null && (
                      <span className="quiet small m nowrap"> km {formatOwnDigits(place.km)}</span>
                    )}
                  </Link>
                  <span className="along-bar" aria-hidden="true">
                    <i style={{ width: `${most > 0 ? (Math.abs(place.value) / most) * 100 : 0}%` }} />
                  </span>
                  <Link to={resultHref(place)} className="plainlink along-value">
                    <VerdictMark verdict={place.verdict} size={14} />{" "}
                    <b className="m">{written(place.value)}</b>
                  </Link>
                  <span className="quiet small">
                    {place.u === null
                      ? "too few values to say how it varies"
                      : `varies by ${formatNumber(place.u, decimals + 1)}${unit === "pH" ? "" : ` ${unit}`}`}
                    {" · "}
                    <span className="nowrap">{showTime(place.measured_at, zone, "short")}</span>
                  </span>
                </li>
              </Fragment>
            );
          })}
        </ol>
      )}
      {places.length > 1 && steps.length === 0 && (
        <p className="quiet">No step between neighbours is larger than the sites themselves vary.</p>
      )}
    </main>
  );
}

import { Link } from "react-router";
import { formatOwnDigits } from "../../../core/quantity/format";
import { type SiteInWater, waterLines } from "../../../core/samples/site";

/** So long a line is drawn, in points, whatever its kilometres; names never touch. */
const [length, nearest] = [420, 34];

/** From the first to the last of an arm, km; 0 where that is not known. */
const spanOf = (sites: readonly SiteInWater[]): number =>
  (sites.at(-1)?.place.km ?? 0) - (sites[0]?.place.km ?? 0);

/** The water drawn without a network: each arm a line, its sites in their order and at their distances. */
export function WaterLines({ sites }: { sites: readonly SiteInWater[] }) {
  const lines = waterLines(sites);
  // One scale for all arms: what looks longer is longer.
  const perKm = length / Math.max(0.001, ...lines.map(({ sites: own }) => spanOf(own)));
  return (
    <div className="water-lines">
      {lines.map(({ branch, sites: own }) => (
        <section key={branch} aria-label={branch || "The main water"}>
          {branch && <h3>{branch}</h3>}
          <ol className="water-line">
            {own.map((s, i) => {
              const [km, next] = [s.place.km, own[i + 1]?.place.km ?? null];
              const apart = km === null || next === null ? 0 : (next - km) * perKm;
              const space = i === own.length - 1 ? 0 : Math.max(nearest, apart);
              return (
                <li key={s.id} style={{ minHeight: space || undefined }}>
                  <Link to={`/sites/${s.id}`} className="plainlink">
                    {s.name}
                  </Link>
                  {km !== null && <span className="quiet small m"> km {formatOwnDigits(km)}</span>}
                </li>
              );
            })}
          </ol>
        </section>
      ))}
    </div>
  );
}

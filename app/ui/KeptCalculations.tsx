import { Link } from "react-router";
import { showTime } from "../../core/time/words";
import type { KeptLine } from "../server/solutions/kept.server";

/** Calculations that were kept, each leading to its working; nothing where there are none and none can be added. */
export const KeptCalculations = ({
  kept,
  zone,
  title = "Calculations kept with it",
  calculateFor,
}: {
  kept: readonly KeptLine[];
  zone: string;
  title?: string;
  /** The code or id of the record that a new one would belong to. */
  calculateFor?: string;
}) =>
  kept.length === 0 && !calculateFor ? null : (
    <section className="stack close" aria-label={title}>
      {kept.length > 0 && (
        <>
          <h2>{title}</h2>
          <ul className="list">
            {kept.map((k) => (
              <li key={k.id}>
                <div className="unmarked">
                  <Link to={k.href} className="name plainlink">
                    {k.title}
                  </Link>
                  <div className="quiet small">
                    {k.note && `${k.note}. `}
                    {showTime(k.at, zone, "both")}, {k.by}
                  </div>
                </div>
                <Link to={k.href} className="calm go" aria-label={`Open ${k.title}`}>
                  Open
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
      {calculateFor && (
        <p>
          <Link to={`/solutions?for=${encodeURIComponent(calculateFor)}`}>Calculate something for it</Link>
        </p>
      )}
    </section>
  );

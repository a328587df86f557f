import "./samples.css";
import { Link, useLoaderData } from "react-router";
import { counted, formatOwnDigits } from "../../../core/quantity/format";
import { type BottleType, fillWords } from "../../../core/samples/bottleTypes";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { allBottleTypes } from "../../server/samples/bottleTypes.server";
import { OutOfUseList } from "../../ui/OutOfUse";
import type { Route } from "./+types/bottles";

export const meta: Route.MetaFunction = () => [{ title: "Bottles · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await allBottleTypes(db);
  return {
    types: stored.flatMap(({ type, out_of_use }) => (out_of_use ? [] : type)),
    gone: stored.flatMap(({ type: { id, name }, out_of_use: out }) =>
      out ? [{ href: `/bottles/${id}`, name, out }] : [],
    ),
    zone: (await rulesInForce(db)).rules.zone,
    mayChange: may(context.get(personContext), "methods"),
  };
}

/** How long a bottle keeps, as people say it. */
const keepsWords = (hours: number): string =>
  hours >= 96 ? `${formatOwnDigits(Math.round(hours / 24))} days` : `${formatOwnDigits(hours)} h`;

const typeWords = (t: BottleType): string =>
  [
    t.pair ? "a pair, one moment" : "",
    t.rinses ? `rinsed ${counted(t.rinses, "time")}` : "not rinsed",
    `filled ${fillWords[t.fill]}`,
    t.filter ? `filtered, ${t.filter.pore_um} µm` : "",
    t.preservative ? `with ${t.preservative}${t.already_in ? ", in the bottle already" : ""}` : "",
    t.cold ? "onto ice" : "",
    t.arrives_c === null ? "" : `at most ${formatOwnDigits(t.arrives_c)} °C on arrival`,
  ]
    .filter(Boolean)
    .join(" · ");

/** The types of bottles: how each is filled, what is added, how long it keeps. */
export default function Bottles() {
  const { types, gone, zone, mayChange } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Bottles</h1>
          <p className="sub">How each is rinsed, filled and kept: the cards at the water follow it.</p>
        </div>
        <div className="cluster">
          {mayChange && (
            <Link to="/bottles/new" className="calm strong">
              A type of your own
            </Link>
          )}
          <Link to="/samples" className="calm">
            The samples
          </Link>
        </div>
      </div>
      <ul className="wanted-list">
        {types.map((t) => (
          <li key={t.id}>
            <span className="what">
              <b>{t.name}</b>
              <span className="quiet">{typeWords(t)}</span>
              {t.tests.length > 0 && (
                <span className="quiet small">
                  {t.tests.map((x) => `${x.parameter} ${keepsWords(x.holds_h)}`).join(", ")}
                </span>
              )}
            </span>
            <span className="nowrap">
              keeps <b className="m">{keepsWords(t.holds_h)}</b>
            </span>
            {mayChange && (
              <Link to={`/bottles/${t.id}`} className="calm strong" aria-label={`Change ${t.name}`}>
                Change
              </Link>
            )}
          </li>
        ))}
      </ul>
      <OutOfUseList title="No longer filled here" entries={gone} zone={zone} />
    </main>
  );
}

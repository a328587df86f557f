import { Link, useLoaderData } from "react-router";
import { calculators } from "../../../core/calculators/registry";
import { DueMark } from "../../shared/DueMark";
import type { Route } from "./+types/solutions";

export const meta: Route.MetaFunction = () => [{ title: "Solutions · Brintel" }];

export const loader = () => ({ list: calculators.map(({ id, title, purpose }) => ({ id, title, purpose })) });

export default function Solutions() {
  const { list } = useLoaderData<typeof loader>();
  return (
    <main className="narrow">
      <h1>Calculators</h1>
      <p className="sub">Each shows its formula, the numbers put in, and where it comes from.</p>
      <ul className="list">
        {list.map((c) => (
          <li key={c.id}>
            <DueMark size={18} />
            <div>
              <Link to={`/solutions/${c.id}`} className="name plainlink">
                {c.title}
              </Link>
              <div className="quiet small">{c.purpose}</div>
            </div>
            <span />
            <Link to={`/solutions/${c.id}`} className="calm go" aria-label={`Open ${c.title}`}>
              Open
            </Link>
          </li>
        ))}
      </ul>
    </main>
  );
}

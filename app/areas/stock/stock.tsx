import { Link, useLoaderData } from "react-router";
import { localDate } from "../../../core/calibration/validity";
import { formatNumber } from "../../../core/quantity/format";
import { lotCondition } from "../../../core/solution/lot";
import { dbContext } from "../../server/contexts.server";
import { listLots, nominalPh } from "../../server/lots.server";
import { rulesInForce } from "../../server/rules.server";
import { type AnyVerdict, VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/stock";

export const meta: Route.MetaFunction = () => [{ title: "Stock · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const today = localDate(new Date().toISOString(), (await rulesInForce(db)).rules.zone);
  const lots = (await listLots(db)).map(({ id, lot }) => ({
    id,
    code: lot.code,
    name: lot.name,
    opened: lot.opened_on !== null,
    ph: nominalPh(lot),
    condition: lotCondition(lot, today),
  }));
  return { lots: lots.sort((a, b) => a.ph - b.ph || a.code.localeCompare(b.code)) };
}

const marks: Record<string, AnyVerdict> = {
  good: "sound",
  expired: "qualified",
  "open-too-long": "qualified",
  withdrawn: "void",
};

export default function Stock() {
  const { lots } = useLoaderData<typeof loader>();
  return (
    <main>
      <div className="pagehead">
        <h1>Stock: pH buffers</h1>
        <Link to="/stock/new" className="calm strong">
          Register a lot
        </Link>
      </div>
      <ul className="list">
        {lots.map((lot) => (
          <li key={lot.id}>
            <VerdictMark verdict={marks[lot.condition.state] ?? "qualified"} size={20} />
            <div>
              <Link to={`/stock/${lot.id}`} className="name plainlink">
                Lot {lot.code}
              </Link>
              <div className="quiet small">
                {lot.name} · {lot.opened ? "" : "not opened · "}
                {lot.condition.sentence}
              </div>
            </div>
            <div className="value">
              {formatNumber(lot.ph, 2)} <small>pH at 25 °C</small>
            </div>
            <Link to={`/stock/${lot.id}`} className="calm go">
              Open
            </Link>
          </li>
        ))}
        {lots.length === 0 && <li className="empty">No lots yet. Register the buffers on your shelf.</li>}
      </ul>
    </main>
  );
}

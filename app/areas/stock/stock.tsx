import { Link, useLoaderData } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { type LotKind, lotKindFacts, lotKinds } from "../../../core/stock/lot";
import { localDate } from "../../../core/time/local";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { pastLots, shelf } from "../../server/stock/lots.server";
import { type AnyVerdict, VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/stock";

export const meta: Route.MetaFunction = () => [{ title: "Stock · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const today = localDate(nowIso(), (await rulesInForce(db)).rules.zone);
  // What ran out long ago is history, newest first, a page at a time.
  const past = url.searchParams.has("past");
  const page = past
    ? await pastLots(db, today, url.searchParams.get("before"))
    : { lots: await shelf(db, today), next: null };
  const lots = page.lots.map(({ id, lot, nominal, condition, portions_left }) => ({
    id,
    kind: lot.kind,
    code: lot.code,
    name: lot.name,
    opened: lot.opened_on !== null,
    nominal,
    condition,
    portions_left,
  }));
  return { lots, past, next: page.next };
}

const marks: Record<string, AnyVerdict> = {
  good: "sound",
  expired: "qualified",
  "open-too-long": "qualified",
  withdrawn: "void",
};

type ShelfLot = ReturnType<typeof useLoaderData<typeof loader>>["lots"][number];

export default function Stock() {
  const { lots, past, next } = useLoaderData<typeof loader>();
  return (
    <main>
      <div className="pagehead">
        <h1>{past ? "Standards that ran out" : "Stock: standards"}</h1>
        <Link to="/stock/new" className="calm strong">
          Register a lot
        </Link>
      </div>
      {lotKinds.map((kind) => (
        <Kind key={kind} kind={kind} lots={lots.filter((l) => l.kind === kind)} />
      ))}
      {lots.length === 0 && (
        <ul className="list">
          <li className="empty">
            {past ? "None ran out before that." : "No lots yet. Register the standards on your shelf."}
          </li>
        </ul>
      )}
      <p className="cluster">
        {past && <Link to="/stock">What is on the shelf</Link>}
        {next && <Link to={`/stock?past=1&before=${next}`}>Older ones</Link>}
        {!past && <Link to="/stock?past=1">Standards that ran out more than two months ago</Link>}
      </p>
    </main>
  );
}

function Kind({ kind, lots }: { kind: LotKind; lots: ShelfLot[] }) {
  if (lots.length === 0) return null;
  const { words, unit, decimals } = lotKindFacts[kind];
  return (
    <section style={{ marginTop: 18 }}>
      <h2>{words}s</h2>
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
                {lot.portions_left === null ? "" : ` ${lot.portions_left} portions left.`}
              </div>
            </div>
            <div className="value">
              {formatNumber(lot.nominal, decimals)} <small>{unit} at 25 °C</small>
            </div>
            <Link to={`/stock/${lot.id}`} className="calm go">
              Open
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

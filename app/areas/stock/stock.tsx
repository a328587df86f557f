import "./stock.css";
import { Link, useLoaderData } from "react-router";
import { formatNumber, formatOwnDigits, formatSignificant } from "../../../core/quantity/format";
import { amountLeft, isStandard, type Lot } from "../../../core/stock/lot";
import { standardFacts, standardKinds } from "../../../core/stock/standard";
import { supplyFacts, supplyKinds } from "../../../core/stock/supply";
import { localDate } from "../../../core/time/local";
import { showDate } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { forecasts } from "../../server/stock/lotPage.server";
import { type OnShelf, onShelf, pastLots } from "../../server/stock/lots.server";
import { nominalValue } from "../../server/stock/standards.server";
import { type AnyVerdict, VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/stock";

export const meta: Route.MetaFunction = () => [{ title: "Stock · Brintel" }];

/** Every kind in the order of the page, with what many of it are called. */
const groups: { kind: Lot["kind"]; many: string }[] = [
  ...standardKinds.map((kind) => ({ kind, many: `${standardFacts[kind].words}s` })),
  ...supplyKinds.map((kind) => ({ kind, many: supplyFacts[kind].many })),
];

/** What is said of a lot in the list. */
function listed({ id, lot, condition, portions_left, used }: OnShelf, lastsUntil: string | null) {
  const left = amountLeft(lot, used);
  const what = isStandard(lot)
    ? {
        value: formatNumber(nominalValue(lot), standardFacts[lot.kind].decimals),
        unit: `${standardFacts[lot.kind].unit} at 25 °C`,
      }
    : lot.strength
      ? { value: formatSignificant(lot.strength.value, 4), unit: lot.strength.unit }
      : left === null
        ? null
        : { value: formatOwnDigits(Number(left.toPrecision(3))), unit: `${lot.unit} left` };
  return {
    id,
    kind: lot.kind,
    code: lot.code,
    name: lot.name,
    what,
    opened: lot.opened_on !== null,
    gone: lot.discarded !== null,
    kit: !isStandard(lot) && lot.kit ? lot.kit.source : null,
    condition,
    says: [
      lot.discarded ? `Thrown away on ${showDate(lot.discarded.on)}.` : condition.sentence,
      ...(portions_left === null || lot.discarded ? [] : [`${portions_left} uses left.`]),
      ...(lastsUntil && !lot.discarded ? [`At this rate until ${showDate(lastsUntil)}.`] : []),
    ].join(" "),
  };
}

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const today = localDate(nowIso(), (await rulesInForce(db)).rules.zone);
  // What ran out long ago is history, newest first, a page at a time.
  const past = url.searchParams.has("past");
  const page = past
    ? await pastLots(db, today, url.searchParams.get("before"))
    : {
        lots: await onShelf(
          db,
          today,
          groups.map((g) => g.kind),
        ),
        next: null,
      };
  const lasting = await forecasts(db, page.lots, today);
  const lots = page.lots.map((stored) => listed(stored, lasting.get(stored.id)?.lasts_until ?? null));
  // What may be taken comes first, and of that what is open.
  lots.sort(
    (a, b) =>
      Number(a.gone) - Number(b.gone) ||
      Number(b.condition.state === "good") - Number(a.condition.state === "good") ||
      Number(b.opened) - Number(a.opened) ||
      a.code.localeCompare(b.code),
  );
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
    <main className="stack">
      <div className="pagehead">
        <h1>{past ? "What ran out" : "Stock"}</h1>
        <div className="cluster">
          <Link to="/stock/waste" className="calm">
            Waste
          </Link>
          <Link to="/stock/labels" className="calm">
            Labels
          </Link>
          <Link to="/stock/prepare" className="calm strong">
            Prepare a solution
          </Link>
          <Link to="/stock/new" className="calm strong">
            Register a lot
          </Link>
        </div>
      </div>
      {groups.map(({ kind, many }) => (
        <Kind key={kind} many={many} lots={lots.filter((l) => l.kind === kind)} />
      ))}
      {lots.length === 0 && (
        <ul className="list">
          <li className="empty">
            {past ? "Nothing ran out before that." : "No lots yet. Register what stands on your shelf."}
          </li>
        </ul>
      )}
      <p className="cluster">
        {past && <Link to="/stock">What is on the shelf</Link>}
        {next && <Link to={`/stock?past=1&before=${next}`}>Older ones</Link>}
        {!past && <Link to="/stock?past=1">What ran out more than two months ago</Link>}
      </p>
    </main>
  );
}

function Kind({ many, lots }: { many: string; lots: ShelfLot[] }) {
  if (lots.length === 0) return null;
  return (
    <section className="stack close" aria-label={many}>
      <h2>{many}</h2>
      <ul className="list">
        {lots.map((lot) => (
          <li key={lot.id}>
            <VerdictMark
              verdict={lot.gone ? "void" : (marks[lot.condition.state] ?? "qualified")}
              size={20}
            />
            <div>
              <Link to={`/stock/${lot.id}`} className="name plainlink">
                Lot {lot.code}
              </Link>
              <div className="quiet small">
                {lot.name} · {lot.opened ? "" : "not opened · "}
                {lot.says}
                {lot.kit && ` Scale by ${lot.kit}.`}
              </div>
            </div>
            <div className="value">
              {lot.what && (
                <>
                  {lot.what.value} <small>{lot.what.unit}</small>
                </>
              )}
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

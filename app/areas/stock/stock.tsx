import { inOrder } from "../../../core/quantity/inOrder";
import "./stock.css";
import { Link, useLoaderData } from "react-router";
import { counted, formatNumber, formatOwnDigits, formatSignificant } from "../../../core/quantity/format";
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

/** So many lots of a kind stand on the page of everything; a kind has a page of its own for the others. */
const mostOfKind = 12;

/** What may be taken comes first, and of that what is open. */
const firstToTake = (a: OnShelf, b: OnShelf): number =>
  Number(a.lot.discarded !== null) - Number(b.lot.discarded !== null) ||
  Number(b.condition.state === "good") - Number(a.condition.state === "good") ||
  Number(b.lot.opened_on !== null) - Number(a.lot.opened_on !== null) ||
  inOrder(a.lot.code, b.lot.code);

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const today = localDate(nowIso(), (await rulesInForce(db)).rules.zone);
  const past = url.searchParams.has("past");
  const only = groups.find((g) => g.kind === url.searchParams.get("kind"));
  const shown = only ? [only] : groups;
  // What ran out long ago is history, newest first, a page at a time.
  const page = past
    ? await pastLots(db, today, url.searchParams.get("before"))
    : {
        lots: await onShelf(
          db,
          today,
          shown.map((g) => g.kind),
        ),
        next: null,
      };
  const most = only || past ? page.lots.length : mostOfKind;
  const byKind = new Map<Lot["kind"], OnShelf[]>(shown.map((group) => [group.kind, []]));
  for (const stored of page.lots) byKind.get(stored.lot.kind)?.push(stored);
  const kinds = shown.flatMap((group) => {
    const all = byKind.get(group.kind)?.sort(firstToTake) ?? [];
    return all.length ? [{ ...group, all: all.length, lots: all.slice(0, most) }] : [];
  });
  const lasting = await forecasts(
    db,
    kinds.flatMap((k) => k.lots),
    today,
  );
  return {
    kinds: kinds.map((k) => ({
      ...k,
      lots: k.lots.map((stored) => listed(stored, lasting.get(stored.id)?.lasts_until ?? null)),
    })),
    past,
    only: only?.many ?? null,
    next: page.next,
  };
}

const marks: Record<string, AnyVerdict> = {
  good: "sound",
  expired: "qualified",
  "open-too-long": "qualified",
  withdrawn: "void",
};

type ShelfKind = ReturnType<typeof useLoaderData<typeof loader>>["kinds"][number];

export default function Stock() {
  const { kinds, past, only, next } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div className="pagehead">
        <h1>{past ? "What ran out" : (only ?? "Stock")}</h1>
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
      {kinds.map((kind) => (
        <Kind key={kind.kind} {...kind} headed={only === null} />
      ))}
      {kinds.length === 0 && (
        <ul className="list">
          <li className="empty">
            {past ? "Nothing ran out before that." : "No lots yet. Register what stands on your shelf."}
          </li>
        </ul>
      )}
      <p className="cluster">
        {(past || only) && (
          <Link to="/stock">{past ? "What is on the shelf" : "Everything on the shelf"}</Link>
        )}
        {next && <Link to={`/stock?past=1&before=${next}`}>Older ones</Link>}
        {!past && <Link to="/stock?past=1">What ran out more than two months ago</Link>}
      </p>
    </main>
  );
}

function Kind({ kind, many, lots, all, headed }: ShelfKind & { headed: boolean }) {
  return (
    <section className="stack close" aria-label={many}>
      {headed && <h2>{many}</h2>}
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
      {all > lots.length && (
        <p>
          <Link to={`/stock?kind=${kind}`}>All {counted(all, "lot")} of this kind</Link>
        </p>
      )}
    </section>
  );
}

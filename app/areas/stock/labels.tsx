import "./stock.css";
import { Link, useLoaderData } from "react-router";
import { formatNumber, formatSignificant } from "../../../core/quantity/format";
import { isStandard } from "../../../core/stock/lot";
import { standardFacts, standardKinds } from "../../../core/stock/standard";
import { supplyKinds } from "../../../core/stock/supply";
import { localDate } from "../../../core/time/local";
import { showDate } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { lotsOfIds, onShelf, type StoredLot } from "../../server/stock/lots.server";
import { nominalValue } from "../../server/stock/standards.server";
import { LabelPage } from "../../ui/LabelSheet";
import type { Route } from "./+types/labels";

export const meta: Route.MetaFunction = () => [{ title: "Labels of the stock · Brintel" }];

/** The most labels that one sheet has. */
const most = 200;

/** The labels of the lots that are asked for, or of everything that is on the shelf. */
export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const today = localDate(nowIso(), (await rulesInForce(db)).rules.zone);
  const asked = url.searchParams.getAll("id").slice(0, most);
  const lots: StoredLot[] = asked.length
    ? await lotsOfIds(db, asked)
    : (await onShelf(db, today, [...standardKinds, ...supplyKinds]))
        .filter(({ lot, condition }) => condition.state === "good" && !lot.discarded)
        .slice(0, most);
  return {
    labels: lots.map(({ id, lot }) => ({
      id,
      code: lot.code,
      hazards: lot.hazards,
      lines: [
        lot.name,
        isStandard(lot)
          ? `${formatNumber(nominalValue(lot), standardFacts[lot.kind].decimals)} ${standardFacts[lot.kind].unit} at 25 °C`
          : lot.strength
            ? `${formatSignificant(lot.strength.value, 4)} ${lot.strength.unit}`
            : "",
        `good until ${showDate(lot.expires_on)}`,
        lot.opened_on ? `opened ${showDate(lot.opened_on)}` : "opened: ______________",
      ].filter(Boolean),
    })),
  };
}

/** Labels as a sheet to be printed; the code in the square is the lot's id, which a scanner types where a lot is asked for. */
export default function StockLabels() {
  const { labels } = useLoaderData<typeof loader>();
  return labels.length === 0 ? (
    <main className="stack">
      <h1>Labels</h1>
      <p className="sheet">
        Nothing is on the shelf that could bear a label. <Link to="/stock">Back to the stock</Link>
      </p>
    </main>
  ) : (
    <LabelPage labels={labels} back={{ to: "/stock", words: "Back to the stock" }} />
  );
}

import { useLoaderData } from "react-router";
import { counted, formatOwnDigits } from "../../../core/quantity/format";
import { kitList } from "../../../core/samples/kitList";
import type { PackRow } from "../../../core/samples/packList";
import { wasteWords } from "../../../core/stock/wasteStreams";
import { localDate } from "../../../core/time/local";
import { showDate } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { packingFor } from "../../server/stock/packing.server";
import { findRound } from "../../server/visits/rounds.server";
import { PaperPage, PaperTable } from "../../ui/PaperPage";
import type { Route } from "./+types/roundPack";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Pack list of ${loaderData?.round.name ?? "the round"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const round = await findRound(db, params.roundId);
  if (!round) throw new Response("No such round", { status: 404 });
  const plans = round.stops.map((s) => s.plan);
  const today = localDate(nowIso(), (await rulesInForce(db)).rules.zone);
  return { round, packing: await packingFor(db, plans, today), gear: kitList(plans) };
}

/** So much of it, as it is measured or counted out: no more digits than anybody packs by. */
const amountWords = ({ amount, unit }: PackRow): string =>
  /^[a-z]{3,}[^s]$/.test(unit)
    ? counted(Math.ceil(amount), unit)
    : `${formatOwnDigits(Number(amount.toPrecision(3)))} ${unit}`;

/** Which bottles, and what is wrong with them. */
function bottleWords({ take, short, lot }: PackRow): string {
  const codes = take.map((b) => b.code).join(", ");
  if (!short) return codes;
  if (take.length) return `${codes}: not enough, order or prepare`;
  return lot ? "none on the shelf: order or prepare" : "";
}

const placeWords = ({ take }: PackRow): string =>
  [...new Set(take.map((b) => b.place).filter(Boolean))].join("; ");

/** What is packed for a round: what the tests take, from which bottle, and the gear. */
export default function RoundPack() {
  const { round, packing, gear } = useLoaderData<typeof loader>();
  const { rows, waste } = packing;
  return (
    <PaperPage
      kind="pack list"
      title={round.name}
      number={`${showDate(round.on_date, "weekday")}, ${round.person}: ${round.stops.map((s) => s.site).join(", ")}`}
      back={{ to: `/visits/rounds/${round.id}`, words: "Back to the round" }}
    >
      {rows.length > 0 && (
        <>
          <h2>For the tests, spares among it</h2>
          <PaperTable
            columns={["Packed", "What", "Tests", "Takes", "Bottle", "Stands"]}
            rows={rows.map((row) => [
              "☐",
              row.material,
              String(row.runs),
              amountWords(row),
              bottleWords(row),
              placeWords(row),
            ])}
          />
          <p className="paper-closing">
            Duplicates are counted in, and a spare test for every five. Only the bottles that are needed: heat
            and light spoil what is carried about.
          </p>
        </>
      )}
      {waste.length > 0 && (
        <>
          <h2>Containers for what was used up</h2>
          <PaperTable columns={["Packed", "Container"]} rows={waste.map((w) => ["☐", wasteWords[w]])} />
          <p className="paper-closing">Local rules for waste decide. Never into the water.</p>
        </>
      )}
      <h2>Gear, the last used first</h2>
      <PaperTable columns={["Packed", "What"]} rows={gear.map((item) => ["☐", item])} />
    </PaperPage>
  );
}

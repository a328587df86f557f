import { formatNumber, formatOwnDigits } from "../../../core/quantity/format";
import { purgeTables } from "../../../core/samples/purge";
import { PaperPage, PaperTable } from "../../ui/PaperPage";
import type { Route } from "./+types/purgeTable";

export const meta: Route.MetaFunction = () => [{ title: "Purge table · Brintel" }];

/** The tables for the truck: how much water stands in a casing, and how long it takes to pump it. */
export default function PurgeTable() {
  const { volume, minutes } = purgeTables();
  return (
    <PaperPage
      kind="purge table"
      title="Water in a casing, and the time to pump it"
      back={{ to: "/visits", words: "Back to the visits" }}
    >
      <h2>Water in the casing, L</h2>
      <PaperTable
        mono
        columns={["Water, m", ...volume.diameters_mm.map((d) => `${d} mm`)]}
        rows={volume.rows.map((r) => [
          formatOwnDigits(r.column_m),
          ...r.litres.map((l) => formatNumber(l, l < 100 ? 1 : 0)),
        ])}
      />
      <p className="paper-closing">
        Depth of the well less depth to the water, both from the same point; inner diameter of the casing.
        Three times that is usually pumped before sampling.
      </p>
      <h2>Minutes to pump so much</h2>
      <PaperTable
        mono
        columns={["Litres", ...minutes.flows_l_s.map((f) => `${formatOwnDigits(f)} L/s`)]}
        rows={minutes.rows.map((r) => [
          formatNumber(r.litres, 0),
          ...r.minutes.map((m) => formatNumber(m, m < 10 ? 1 : 0)),
        ])}
      />
      <p className="paper-closing">
        The whole flow, also what runs to a tank: a bucket of known volume and a clock. 10 m in 150 mm are 177
        L; three times that at 0.5 L/s take about 18 minutes. Measure pH, conductivity and temperature once
        for each volume; sample when three rounds agree. V = π/4 · d² · h.
      </p>
    </PaperPage>
  );
}

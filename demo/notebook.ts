import { bringFile } from "../app/server/exchange/importFile.server";
import { takeImport } from "../app/server/exchange/takeImport.server";
import { formatNumber } from "../core/quantity/format";
import { type Demo, must } from "./story";

/** What stood in the notebook of the weeks before: pH, conductivity and temperature, as they were written. */
const pages = [
  ["Feed borehole E1", 7.31, 612, 11.2],
  ["Bathing pond", 8.02, 548, 19.4],
  ["Outfall to the mill leat", 7.94, 551, 18.9],
] as const;
/** Days before the first day here, and how much warmer it was then. */
const days = [
  [21, 2.1],
  [14, 1.2],
  [7, 0.4],
] as const;

/** Petra types the old notebook into a table and brings it in: the waters have a past from the first day. */
export async function oldNotebook(demo: Demo, now: string): Promise<void> {
  const by = must(demo.people[3]);
  const lines = days.flatMap(([before, warmer]) =>
    pages.map(([site, ph, ec, t], i) =>
      [
        site,
        demo.today.add(-84 - before, "day").format("DD.MM.YYYY"),
        `10:${10 + 12 * i}`,
        formatNumber(ph + 0.02 * warmer, 2),
        formatNumber(ec - 6 * warmer, 0),
        formatNumber(t + warmer, 1),
        "Idris",
      ].join(";"),
    ),
  );
  const text = ["Site;Date;Time;pH;EC (µS/cm);Temperature (°C);Observer", ...lines].join("\n");
  const kept = await bringFile(demo.db, { name: "notebook-summer.csv", text }, by, now);
  if ("message" in kept) throw new Error(kept.message);
  const refused = await takeImport(demo.db, kept.id, { partly: false, person_id: by.id }, now);
  if (refused) throw new Error(refused);
}

import type { Knex } from "knex";
import { calculators } from "../../../core/calculators/registry";
import { techniqueWords } from "../../../core/methods/methodWords";
import { standardKinds } from "../../../core/stock/standard";
import { supplyKinds } from "../../../core/stock/supply";
import { localDate } from "../../../core/time/local";
import { allMeters } from "../meters/meters.server";
import { rulesInForce } from "../rules/rules.server";
import { listMethods } from "../runs/methods.server";
import { allSites } from "../sites/sites.server";
import { onShelf } from "../stock/lots.server";

export interface Place {
  label: string;
  detail: string;
  href: string;
}

/** Every place the jump box can go to; of the lots those on the shelf. */
export async function jumpPlaces(db: Knex, now: string): Promise<Place[]> {
  const today = localDate(now, (await rulesInForce(db)).rules.zone);
  const [meters, lots, sites, methods] = await Promise.all([
    allMeters(db),
    onShelf(db, today, [...standardKinds, ...supplyKinds]),
    allSites(db),
    listMethods(db),
  ]);
  return [
    ...meters.flatMap((m) => [
      ...(m.out_of_use
        ? []
        : [
            { label: `Calibrate ${m.code}`, detail: m.name, href: `/meters/${m.id}/calibrate` },
            { label: `Take a reading with ${m.code}`, detail: m.name, href: `/meters/${m.id}/read` },
            {
              label: `Check ${m.code}`,
              detail: "closing check, not adjusted",
              href: `/meters/${m.id}/check`,
            },
          ]),
      {
        label: `Meter ${m.code}`,
        detail: m.out_of_use ? `${m.name}, out of use` : m.name,
        href: `/meters/${m.id}`,
      },
    ]),
    ...sites.map((s) => ({ label: s.name, detail: "readings in the ledger", href: `/ledger?site=${s.id}` })),
    ...lots.map(({ id, lot }) => ({ label: `Lot ${lot.code}`, detail: lot.name, href: `/stock/${id}` })),
    ...methods
      .filter(({ method }) => method.measure.technique !== "meter")
      .map(({ method }) => ({
        label: `Run ${method.name}`,
        detail: techniqueWords[method.measure.technique],
        href: `/runs/new/${method.id}`,
      })),
    { label: "Everything that is due", detail: "calibrations, checks, lots, orders", href: "/due" },
    { label: "Plan several tests", detail: "for one or two people", href: "/runs/plan" },
    { label: "Prepare a solution", detail: "by a recipe", href: "/stock/prepare" },
    { label: "Plan a dilution", detail: "with the glassware that is there", href: "/solutions/planner" },
    { label: "Review and sign", detail: "shifts that nobody has signed", href: "/review" },
    { label: "Journal", detail: "everything that was done, and its check", href: "/journal" },
    { label: "Backups and upkeep", detail: "how Brintel is doing", href: "/upkeep" },
    {
      label: "Bring in a file",
      detail: "results of another record, lots, methods",
      href: "/imports",
    },
    { label: "People", detail: "who works here, and who may do what", href: "/people" },
    { label: "House rules", detail: "limits and choices", href: "/rules" },
    ...calculators.map((c) => ({ label: c.title, detail: "calculator", href: `/solutions/${c.id}` })),
  ];
}

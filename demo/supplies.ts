import type { Person } from "../app/server/people/people.server";
import { addLot } from "../app/server/stock/lots.server";
import type { Hazard } from "../core/stock/hazards";
import type { Kit } from "../core/stock/kit";
import { kitSchema } from "../core/stock/kit";
import { type SupplyLot, supplyFacts } from "../core/stock/supply";
import { type Demo, isoDay, must } from "./story";

/** What stands on the shelf besides standards; days are counted from today. */
interface DemoSupply {
  code: string;
  kind: SupplyLot["kind"];
  name: string;
  serves?: string[];
  size: number;
  portion: number | null;
  opened: number | null;
  expires: number;
  shelf?: number;
  place: string;
  hazards?: Hazard[];
  strength?: NonNullable<SupplyLot["strength"]>;
  formula?: string;
  purity?: number;
  kit?: Kit;
}

const kit = (method: string, source: string, more: Partial<Kit> = {}): Kit =>
  kitSchema.parse({ method, source, ...more });
const scale = (...steps: number[]) => ({ name: "", steps });

const reagentShelf = "reagents, shelf 2";
const cabinet = "acid cabinet";
const drawer = "kits, drawer 1";
const salts = "chemicals, top";

const supplies: DemoSupply[] = [
  {
    code: "NT-31",
    kind: "kit",
    name: "Nitrate squeeze tubes",
    size: 60,
    portion: 1,
    opened: -90,
    expires: 260,
    place: drawer,
    hazards: ["harmful"],
    kit: kit("nitrate-tube", "leaflet of the tube kit, edition 3", {
      scales: [scale(0, 0.2, 0.5, 1, 2, 5, 10)],
    }),
  },
  {
    code: "PP-08",
    kind: "kit",
    name: "Phosphate reagent powder",
    size: 100,
    portion: 1,
    opened: -90,
    expires: 410,
    place: drawer,
    hazards: ["harmful"],
    kit: kit("phosphate-photometer", "leaflet of the powder, edition 5", {
      range: { low: 0.05, high: 2 },
      program: "P2",
    }),
  },
  ...(
    [
      ["MN-12", "Manganese(II) sulfate", ["harmful", "environment"]],
      ["IA-12", "Alkaline iodide-azide", ["corrosive", "toxic"]],
      ["SA-12", "Sulfuric acid", ["corrosive"]],
    ] as const
  ).map(
    ([code, name, hazards]): DemoSupply => ({
      code,
      kind: "reagent",
      name,
      serves: [name],
      size: 60,
      portion: 0.4,
      opened: -90,
      expires: 420,
      place: cabinet,
      hazards: [...hazards],
    }),
  ),
  {
    code: "ST-07",
    kind: "indicator",
    name: "Starch indicator",
    serves: ["Starch indicator"],
    size: 100,
    portion: 0.4,
    opened: -90,
    expires: 200,
    place: reagentShelf,
  },
  {
    code: "TD-04",
    kind: "kit",
    name: "Thiosulfate for drops",
    serves: ["Thiosulfate for drops"],
    size: 60,
    portion: 0.75,
    opened: -90,
    expires: 240,
    place: reagentShelf,
    kit: kit("oxygen-drops", "leaflet of the oxygen kit, edition 2", { per_unit: 1 }),
  },
  {
    code: "TS-22",
    kind: "titrant",
    name: "Sodium thiosulfate 0.0250 N",
    serves: ["Sodium thiosulfate 0.0250 N"],
    size: 1000,
    portion: 10,
    opened: -20,
    expires: 160,
    shelf: 90,
    place: reagentShelf,
    strength: { value: 0.025, uncertainty: 0.00006, unit: "N" },
  },
  {
    code: "AG-03",
    kind: "titrant",
    name: "Silver nitrate 0.0141 N",
    serves: ["Silver nitrate 0.0141 N"],
    size: 500,
    portion: 15,
    opened: -40,
    expires: 300,
    place: "dark cupboard",
    hazards: ["corrosive", "environment"],
    strength: { value: 0.0141, uncertainty: 0.00004, unit: "N" },
  },
  {
    code: "HS-15",
    kind: "titrant",
    name: "Sulfuric acid 0.02 N",
    serves: ["Sulfuric acid 0.02 N"],
    size: 1000,
    portion: 15,
    opened: null,
    expires: 300,
    place: cabinet,
    strength: { value: 0.02, uncertainty: 0.00005, unit: "N" },
  },
  {
    code: "PS-50",
    kind: "strips",
    name: "pH strips",
    serves: ["pH strips"],
    size: 100,
    portion: 1,
    opened: -60,
    expires: 500,
    place: drawer,
  },
  {
    code: "OC-8",
    kind: "control-sample",
    name: "Pond water, filtered: the pond's own control of pH",
    size: 5000,
    portion: 40,
    opened: -84,
    expires: 120,
    place: "refrigerator",
  },
  {
    code: "PS-50P",
    kind: "reagent",
    name: "Phosphate, 50 mg/L as PO4",
    size: 250,
    portion: null,
    opened: -80,
    expires: 200,
    place: reagentShelf,
    strength: { value: 50, uncertainty: 0.2, unit: "mg/L", of: "PO4" },
  },
  ...(
    [
      ["KCL-2", "Potassium chloride", "KCl", 99.9, []],
      ["NACL-5", "Sodium chloride, dried", "NaCl", 99.9, []],
      ["SUL-1", "Sodium sulfite", "Na2SO3", 98, []],
      ["THIO-1", "Sodium thiosulfate pentahydrate", "Na2S2O3·5H2O", 99.5, []],
      ["IOD-1", "Potassium iodate", "KIO3", 99.97, ["oxidising", "harmful"]],
    ] as const
  ).map(
    ([code, name, formula, purity, hazards]): DemoSupply => ({
      code,
      kind: "chemical",
      name,
      size: 500,
      portion: null,
      opened: -80,
      expires: 900,
      place: salts,
      formula,
      purity,
      hazards: [...hazards],
    }),
  ),
];

/** Puts everything on the shelf that is no standard. */
export async function stockTheShelf(demo: Demo, by: Person): Promise<void> {
  const day = (n: number) => isoDay(demo.today.add(n, "day"));
  for (const supply of supplies) {
    const received = demo.today.add(Math.min(supply.opened ?? -30, -30) - 4, "day");
    const lot: SupplyLot = {
      kind: supply.kind,
      code: supply.code,
      name: supply.name,
      serves: supply.serves ?? [],
      strength: supply.strength ?? null,
      formula: supply.formula ?? "",
      purity_percent: supply.purity ?? null,
      kit: supply.kit ?? null,
      received_on: isoDay(received),
      opened_on: supply.opened === null ? null : day(supply.opened),
      expires_on: day(supply.expires),
      shelf_life_open_days: supply.shelf ?? null,
      size: supply.size,
      portion: supply.portion,
      unit: supplyFacts[supply.kind].unit,
      place: supply.place,
      hazards: supply.hazards ?? [],
      withdrawn: null,
      discarded: null,
    };
    demo.supplies.push(must(await addLot(demo.db, lot, by, received.hour(9).toISOString())));
  }
}

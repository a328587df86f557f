import { type Unit, unitFromSpelling } from "../quantity/unit";

/** Something a laboratory is asked for: as what and in which unit the ledger keeps it. */
export interface LabTest {
  parameter: string;
  analyte: string;
  species: string;
  unit: string;
  decimals: number;
}

const mgL = (parameter: string, analyte: string, species: string, decimals = 2): LabTest => ({
  parameter,
  analyte,
  species,
  unit: "mg/L",
  decimals,
});
const ugL = (parameter: string, analyte: string, species: string): LabTest => ({
  parameter,
  analyte,
  species,
  unit: "µg/L",
  decimals: 1,
});
const count = (parameter: string, analyte: string): LabTest => ({
  parameter,
  analyte,
  species: analyte,
  unit: "per 100 mL",
  decimals: 0,
});

/** What laboratories are usually asked for of water, named as the methods of the house name it. Source: common practice. */
export const labTests: readonly LabTest[] = [
  mgL("nitrate", "Nitrate", "NO3-N"),
  mgL("nitrite", "Nitrite", "NO2-N", 3),
  mgL("ammonia", "Ammonia", "NH3-N"),
  mgL("phosphate", "Phosphate", "PO4"),
  mgL("total-phosphorus", "Total phosphorus", "P", 3),
  mgL("total-nitrogen", "Total nitrogen", "N"),
  mgL("chloride", "Chloride", "Cl", 1),
  mgL("sulfate", "Sulfate", "SO4", 1),
  mgL("alkalinity", "Alkalinity", "CaCO3", 0),
  mgL("hardness", "Hardness", "CaCO3", 0),
  mgL("suspended-solids", "Suspended solids", "Suspended solids", 1),
  mgL("bod5", "Biochemical oxygen demand, 5 days", "O2", 1),
  mgL("organic-carbon", "Dissolved organic carbon", "C", 1),
  ugL("iron", "Iron", "Fe"),
  ugL("manganese", "Manganese", "Mn"),
  ugL("copper", "Copper", "Cu"),
  ugL("zinc", "Zinc", "Zn"),
  ugL("lead", "Lead", "Pb"),
  ugL("arsenic", "Arsenic", "As"),
  count("e-coli", "E. coli"),
  count("enterococci", "Intestinal enterococci"),
  count("total-coliforms", "Total coliforms"),
];

export const labTestOf = (parameter: string): LabTest | undefined =>
  labTests.find((t) => t.parameter === parameter);

/** Spellings that laboratories use, on the way to the test they mean. */
const aliases: Record<string, string> = {
  no3: "nitrate",
  "no3-n": "nitrate",
  no2: "nitrite",
  "no2-n": "nitrite",
  nh3: "ammonia",
  nh4: "ammonia",
  "nh4-n": "ammonia",
  "nh3-n": "ammonia",
  ammonium: "ammonia",
  po4: "phosphate",
  "po4-p": "phosphate",
  orthophosphate: "phosphate",
  tp: "total-phosphorus",
  tn: "total-nitrogen",
  cl: "chloride",
  so4: "sulfate",
  sulphate: "sulfate",
  tss: "suspended-solids",
  bod: "bod5",
  doc: "organic-carbon",
  fe: "iron",
  mn: "manganese",
  cu: "copper",
  zn: "zinc",
  pb: "lead",
  as: "arsenic",
  "escherichia coli": "e-coli",
  ecoli: "e-coli",
  coliforms: "total-coliforms",
};

/**
 * The test that a laboratory's own name means, with the species where the name says it; undefined when none is known by it.
 * Check value: "Nitrate as NO3" is nitrate, as NO3.
 */
export function labTestNamed(name: string): { test: LabTest; species?: string } | undefined {
  const [what = "", as] = name.trim().split(/\s+as\s+/i);
  const key = what.trim().toLowerCase();
  const test =
    labTests.find((t) => t.parameter === key.replaceAll(" ", "-") || t.analyte.toLowerCase() === key) ??
    labTestOf(aliases[key] ?? "");
  if (!test) return undefined;
  const said = as ?? (/^[A-Z][A-Za-z]?[A-Za-z0-9]*\d/.test(what.trim()) ? what.trim() : undefined);
  return said ? { test, species: said.replace(/^NH4-N$/i, "NH3-N") } : { test };
}

/** A unit as a laboratory spells it, in Brintel's own spelling; the spelling itself where it is no unit of ours. */
export const labUnit = (text: string): Unit | string =>
  unitFromSpelling(text) ??
  (/^(cfu|mpn)?\s*(\/|per)\s*100\s*ml$/i.test(text.trim()) ? "per 100 mL" : text.trim());

/** What each bottle that ships is usually sent for. Source: common practice. */
export const usualTests: Record<string, readonly string[]> = {
  "nutrients-filtered": ["nitrate", "nitrite", "ammonia", "phosphate"],
  "metals-filtered": ["iron", "manganese"],
  general: ["alkalinity", "chloride", "suspended-solids"],
  sterile: ["e-coli", "enterococci"],
};

import { formatNumber, formatSignificant } from "../../quantity/format";
import { type Found, foundOf, scaleFound } from "../../quantity/found";
import { type HardnessUnit, hardnessFactor } from "../../quantity/hardnessUnits";
import { err, ok, type Result } from "../../quantity/result";
import { speciesFactor } from "../../quantity/species";
import { ammoniumPka, unionisedFraction } from "../../reference/ammonia";
import { oxygenSaturation } from "../../reference/oxygen";
import type { HouseRules } from "../../rules/houseRules";
import type { DerivedEvidence, DerivedKind, DerivedSource } from "./derivedEvidence";

/** What a derived result is called, and in what it is given. */
type Reported = Pick<DerivedEvidence, "result" | "reported" | "working">;

const numberIn = (source: DerivedSource | undefined): number | null =>
  source?.found?.kind === "value" ? source.found.value : null;

const missing = (what: string) => err("missing", `There is no ${what} of the same water.`);

/**
 * Un-ionised ammonia of a water, mg/L NH3, from its total ammonia, pH and temperature. A range or a limit stays one. Errors: `missing`.
 * Source: Emerson et al. 1975. Check value: 1 mg/L NH3-N at pH 8 and 25 °C is 0.0652 mg/L NH3.
 */
function freeAmmonia(from: readonly DerivedSource[]): Result<Reported> {
  const total = from.find((s) => s.role === "ammonia");
  const ph = from.find((s) => s.role === "ph");
  const [acidity, temperature] = [
    numberIn(ph),
    numberIn(from.find((s) => s.role === "temperature")) ?? ph?.temperature_c ?? null,
  ];
  if (!total?.found) return missing("total ammonia");
  if (acidity === null) return missing("pH");
  if (temperature === null) return missing("temperature");
  const factor = speciesFactor(total.species, "NH3");
  if (!factor.ok) return factor;
  const fraction = unionisedFraction(acidity, temperature);
  return ok({
    result: {
      parameter: "free-ammonia",
      analyte: "Un-ionised ammonia",
      species: "NH3",
      unit: "mg/L",
      decimals: 4,
    },
    reported: scaleFound(total.found, fraction * factor.value),
    working: [
      `pKa = 0.09018 + 2729.92 / (${formatNumber(temperature, 1)} + 273.15) = ${formatNumber(ammoniumPka(temperature), 3)}`,
      `share un-ionised = 1 / (1 + 10^(${formatNumber(ammoniumPka(temperature), 3)} − ${formatNumber(acidity, 2)})) = ${formatSignificant(fraction, 4)}`,
      `${total.shown} ${total.unit} ${total.species} · ${formatNumber(factor.value, 4)} · ${formatSignificant(fraction, 4)}, as NH3`,
    ],
  });
}

/**
 * Oxygen as a share of what air gives this water, %, at its own temperature and the pressure and salinity of the meter's calibration.
 * Errors: `missing`, `range`. Source: Benson & Krause 1984. Check value: 9.09 mg/L at 20 °C and 1013.25 hPa is 100 %.
 */
function saturation(
  from: readonly DerivedSource[],
  constants: DerivedEvidence["constants"],
): Result<Reported> {
  const oxygen = from.find((s) => s.role === "oxygen");
  const { pressure_hpa, salinity = 0 } = constants;
  if (!oxygen?.found) return missing("oxygen");
  if (oxygen.temperature_c === null) return missing("temperature");
  if (pressure_hpa === undefined)
    return err("missing", "Nobody knows the pressure at which it was measured.");
  if (oxygen.temperature_c < 0 || oxygen.temperature_c > 40)
    return err("range", "Saturation is known from 0 to 40 °C.");
  const full = oxygenSaturation(oxygen.temperature_c, pressure_hpa, salinity);
  return ok({
    result: {
      parameter: "oxygen-saturation",
      analyte: "Oxygen saturation",
      species: "Oxygen saturation",
      unit: "%",
      decimals: 0,
    },
    reported: scaleFound(oxygen.found, 100 / full),
    working: [
      `full at ${formatNumber(oxygen.temperature_c, 1)} °C, ${formatNumber(pressure_hpa, 0)} hPa, salinity ${formatNumber(salinity, 1)}: ${formatNumber(full, 2)} mg/L`,
      `${oxygen.shown} / ${formatNumber(full, 2)} · 100 %`,
    ],
  });
}

/**
 * Dissolved solids by conductivity, mg/L: κ25 times the factor of the house. Errors: `missing`.
 * Source: common practice, factor 0.5–0.7. Check value: 500 µS/cm with 0.65 is 325 mg/L.
 */
function dissolvedSolids(from: readonly DerivedSource[], factor: number): Result<Reported> {
  const conductivity = from.find((s) => s.role === "conductivity");
  if (!conductivity?.found) return missing("conductivity");
  return ok({
    result: {
      parameter: "tds",
      analyte: "Dissolved solids",
      species: "Dissolved solids",
      unit: "mg/L",
      decimals: 0,
    },
    reported: scaleFound(conductivity.found, factor),
    working: [`${formatNumber(factor, 2)} · ${conductivity.shown} µS/cm at 25 °C`],
  });
}

const degreeUnits: Record<Exclude<HouseRules["derived"]["degrees"], "none">, HardnessUnit> = {
  dH: "°dH",
  fH: "°fH",
  eH: "°eH",
};

/** Hardness or alkalinity in degrees. Errors: `missing`, `unit`. Source: definitions. Check value: 17.85 mg/L CaCO3 is 1 °dH. */
function degrees(from: readonly DerivedSource[], wanted: HouseRules["derived"]["degrees"]): Result<Reported> {
  const hardness = from.find((s) => s.role === "hardness");
  if (!hardness?.found || wanted === "none") return missing("hardness");
  const unit = degreeUnits[wanted];
  const factor = hardnessFactor("mg/L CaCO3", unit);
  const parameter = hardness.analyte.startsWith("Alkalinity") ? "alkalinity-degrees" : "hardness-degrees";
  const analyte = `${parameter === "alkalinity-degrees" ? "Alkalinity" : "Hardness"} in degrees`;
  return ok({
    result: {
      parameter,
      analyte,
      species: analyte,
      unit,
      decimals: 1,
    },
    reported: scaleFound(hardness.found, factor),
    working: [`${hardness.shown} mg/L CaCO3 · ${formatSignificant(factor, 4)} ${unit}`],
  });
}

/**
 * Reckons a derived result from the results it derives from. Pure. Errors: `missing` where one of them is not known.
 * Source: each kind names its own. Check value: {@link freeAmmonia}'s.
 */
export function derive(
  kind: DerivedKind,
  from: readonly DerivedSource[],
  constants: DerivedEvidence["constants"],
  rules: HouseRules,
): Result<Reported> {
  switch (kind) {
    case "free-ammonia":
      return freeAmmonia(from);
    case "saturation":
      return saturation(from, constants);
    case "tds":
      return dissolvedSolids(from, constants.factor ?? rules.conductivity.tds_factor);
    case "degrees":
      return degrees(from, rules.derived.degrees);
  }
}

/**
 * A result of the ledger's columns as what was found; null where nothing was. Check value: a low end alone is `above` it.
 */
export function foundOfColumns(value: number | null, low: number | null, high: number | null): Found | null {
  if (low === null && high === null) return value === null ? null : { kind: "value", value };
  return foundOf(low ?? Number.NEGATIVE_INFINITY, high ?? Number.POSITIVE_INFINITY);
}

import { formatNumber, formatSignificant } from "../quantity/format";
import { compositionOf, massOf } from "../quantity/molarMass";
import { shareOf } from "../quantity/share";
import { flaskTolerance, relativeUncertainty } from "../reference/glassware";
import { type Salt, saltConductivity, saltMolarMass } from "../reference/saltStandards";
import { addDays } from "../time/zone";
import type { Lot } from "./lot";
import type { PreparationState } from "./preparation";
import type { Ingredient } from "./preparationEvents";
import { type StandardKind, standardKinds } from "./standard";
import type { SupplyKind, SupplyLot } from "./supply";

/** What is known of a solution that was made: a number with its standard uncertainty, and how it came about. */
export interface Prepared {
  /** Null where a solution has no number, like starch. */
  value: number | null;
  uncertainty: number;
  unit: string;
  /** What the number is of. */
  of: string;
  /** Of a salt that conducts, mol/L. */
  molar: number | null;
  working: string[];
}

/** Relative standard uncertainty of a purity that is stated to its last digit, rectangular. */
const purityUncertainty = (percent: number): number => 0.1 / Math.sqrt(3) / percent;

const n = (value: number) => formatSignificant(value, 5);

/** How much is in it by what was taken, with its relative standard uncertainty: in mg/L where it was weighed, in the unit of
 * the stronger solution where that was diluted. */
function madeOf(state: PreparationState, { key, name, formula }: Ingredient) {
  const taken = state.taken[key];
  const parent = state.parents.find((p) => p.ingredient === key);
  if (!taken) return null;
  const { volume_ml } = state;
  const u_flask = relativeUncertainty(volume_ml, flaskTolerance(volume_ml));
  if (parent?.strength) {
    const { value, uncertainty, unit, of = "" } = parent.strength;
    const c = (value * taken.amount) / volume_ml;
    return {
      c,
      unit,
      u: Math.hypot(uncertainty / value, relativeUncertainty(taken.amount, taken.within), u_flask),
      of,
      working: [
        `c = ${n(value)} ${unit} · ${n(taken.amount)} mL / ${n(volume_ml)} mL = ${n(c)} ${unit} ${of}`.trimEnd(),
      ],
    };
  }
  const purity = parent?.purity_percent ?? 100;
  const mg_l = (taken.amount * purity * 10_000) / volume_ml;
  // Weighed twice, empty and full, each to the last digit of the balance.
  const u_mass = (taken.within * Math.SQRT2) / 2 / Math.sqrt(3) / taken.amount;
  return {
    c: mg_l,
    unit: "mg/L" as const,
    u: Math.hypot(u_mass, purity === 100 ? 0 : purityUncertainty(purity), u_flask),
    of: formula || name,
    working: [
      `c = ${n(taken.amount)} g · ${formatNumber(purity, 2)} % / ${n(volume_ml)} mL = ${n(mg_l)} mg/L ${formula || name}`,
    ],
  };
}

/** Which unit a number of each sort is in. */
const unitOf = { mg_l: "mg/L", normality: "N", caco3: "mg/mL", conductivity: "µS/cm", nothing: "" } as const;

/**
 * What a finished preparation amounts to: its strength from what was weighed or measured, purity and volume.
 * Units: as the recipe says. Source: mass balance; GUM for independent relative uncertainties; IUPAC atomic weights.
 * Check value: 6.205 g of Na2S2O3·5H2O in 1000 mL are 0.02500 N.
 */
export function preparedOf(state: PreparationState): Prepared {
  const { gives } = state.recipe.makes;
  const [ingredient] = state.recipe.ingredients;
  const unit = unitOf[gives.what];
  const nothing: Prepared = { value: null, uncertainty: 0, unit: "", of: "", molar: null, working: [] };
  const made = ingredient && gives.what !== "nothing" ? madeOf(state, ingredient) : null;
  if (!made || !ingredient) return nothing;
  const { c, working } = made;
  // What decomposes or draws water is known only so well until it is standardised.
  const u = Math.hypot(made.u, (gives.rough_percent ?? 0) / 100 / Math.sqrt(3));
  const given = (value: number, of: string, line: string, molar: number | null = null): Prepared => ({
    value,
    uncertainty: value * u,
    unit,
    of,
    molar,
    working: [...working, ...(line ? [line] : []), `u = ${formatSignificant(value * u, 2)} ${unit}`],
  });
  // A stronger solution of the same sort was diluted: there is nothing more to reckon.
  if (made.unit === unit && made.unit !== "mg/L") return given(c, made.of, "");
  if (made.unit !== "mg/L") return nothing;
  const weight = massOfFormula(ingredient.formula);
  switch (gives.what) {
    case "mg_l": {
      const share = shareFor(gives.of, ingredient.formula, made.of);
      const value = c * share.fraction;
      return given(value, gives.of, share.words && `${gives.of}: ${share.words} of it = ${n(value)} mg/L`);
    }
    case "normality": {
      const equivalents = gives.equivalents ?? 1;
      const value = (c / 1000 / weight) * equivalents;
      const times = equivalents === 1 ? "" : ` · ${equivalents}`;
      return given(
        value,
        ingredient.formula,
        `N = ${n(c)} / 1000 / ${formatNumber(weight, 3)}${times} = ${n(value)} eq/L`,
      );
    }
    case "caco3": {
      // A mole of it binds one of calcium: as calcium carbonate, mg a mL.
      const value = (c / 1000 / weight) * massOfFormula("CaCO3");
      return given(
        value,
        "CaCO3",
        `B = ${n(c)} / 1000 / ${formatNumber(weight, 3)} · ${formatNumber(massOfFormula("CaCO3"), 3)} = ${n(value)} mg/mL CaCO3`,
      );
    }
    default: {
      const salt = gives.of as Salt;
      const molar = c / 1000 / saltMolarMass[salt];
      const found = saltConductivity(salt, molar);
      return found.ok
        ? given(found.value, salt, `κ(25 °C) of ${n(c)} mg/L ${salt} = ${n(found.value)} µS/cm`, molar)
        : nothing;
    }
  }
}

function massOfFormula(formula: string): number {
  const composition = compositionOf(formula);
  return composition.ok ? massOf(composition.value) : Number.NaN;
}

/** Which share of what was taken is what the result is given as; all of it where that is the same. */
function shareFor(of: string, formula: string, taken: string): { fraction: number; words: string } {
  if (of === taken || of === formula) return { fraction: 1, words: "" };
  const composition = compositionOf(formula);
  const share = composition.ok ? shareOf(of, composition.value) : composition;
  return share.ok ? { fraction: share.value.fraction, words: share.value.words } : { fraction: 1, words: "" };
}

/** The temperatures of the table of a conductivity standard of one's own, °C. */
const tableTemperatures = [5, 10, 15, 20, 25, 30, 35];

/** The lot that a finished preparation is, from the day it was made. `code` is what stands on it. */
export function lotOf(state: PreparationState, day: string, code: string): Lot {
  const { recipe, volume_ml } = state;
  const prepared = preparedOf(state);
  const base = {
    code,
    name: recipe.name.slice(0, 60),
    received_on: day,
    opened_on: day,
    expires_on: addDays(day, recipe.keeps_days),
    shelf_life_open_days: recipe.keeps_days,
    size: volume_ml,
    portion: null,
    unit: "mL",
    place: state.label?.place ?? "",
    hazards: recipe.hazards,
    withdrawn: null,
    discarded: null,
  };
  const standard = standardKinds.find((k) => k === recipe.makes.kind);
  if (standard) return { ...base, kind: standard, ...asStandard(standard, prepared) };
  const kind = recipe.makes.kind as SupplyKind;
  return {
    ...base,
    kind,
    serves: recipe.makes.serves,
    strength: strengthOf(prepared),
    formula: "",
    purity_percent: null,
    kit: null,
  };
}

function strengthOf({ value, uncertainty, unit, of }: Prepared): SupplyLot["strength"] {
  if (value === null) return null;
  if (unit === "mg/L") return { value, uncertainty, unit, of };
  return unit === "N" || unit === "mg/mL" ? { value, uncertainty, unit } : null;
}

function asStandard(kind: StandardKind, prepared: Prepared) {
  const one = [{ temperature_c: 25, value: prepared.value ?? 0 }];
  const common = { material: "", reference: null };
  if (kind !== "conductivity-standard")
    return {
      ...common,
      shelf_life_open_days: 1,
      uncertainty: kind === "zero-oxygen" ? 0.1 : prepared.uncertainty,
      table: one,
    };
  const salt = prepared.of as Salt;
  const molar = prepared.molar ?? Number.NaN;
  return {
    ...common,
    // Twice the standard uncertainty, as a certificate states it.
    uncertainty: 2 * prepared.uncertainty,
    table: tableTemperatures.flatMap((temperature_c) => {
      const value = saltConductivity(salt, molar, temperature_c);
      return value.ok ? [{ temperature_c, value: value.value }] : [];
    }),
  };
}

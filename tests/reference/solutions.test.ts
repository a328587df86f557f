import { describe, expect, it } from "vitest";
import { calculate } from "../../core/calculators/registry";

const outputs = (id: string, inputs: object): Record<string, number> => {
  const answer = calculate(id, inputs);
  if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
  return answer.outputs as Record<string, number>;
};
const refusal = (id: string, inputs: object): string => {
  const answer = calculate(id, inputs);
  return "errors" in answer ? `${answer.errors[0]?.path}: ${answer.errors[0]?.message}` : "accepted";
};
const codes = (id: string, inputs: object): string[] => {
  const answer = calculate(id, inputs);
  return "errors" in answer ? [] : answer.warnings.map((w) => w.code);
};

describe("molar masses", () => {
  // Source: CRC Handbook of Chemistry and Physics, physical constants of inorganic compounds; from memory, to its own digits.
  it.each([
    ["NaCl", 58.443],
    ["KCl", 74.551],
    ["KNO3", 101.103],
    ["KH2PO4", 136.085],
    ["K2HPO4", 174.176],
    ["NH4Cl", 53.491],
    ["(NH4)2SO4", 132.14],
    ["NaNO2", 68.995],
    ["NaNO3", 84.995],
    ["AgNO3", 169.873],
    ["NaOH", 39.997],
    ["KOH", 56.105],
    ["HCl", 36.461],
    ["H2SO4", 98.079],
    ["HNO3", 63.013],
    ["H3PO4", 97.995],
    ["CaCO3", 100.087],
    ["NaHCO3", 84.007],
    ["Na2CO3", 105.989],
    ["KIO3", 214.001],
    ["KI", 166.003],
    ["KMnO4", 158.034],
    ["K2Cr2O7", 294.185],
    ["K2CrO4", 194.191],
    ["Na2SO3", 126.043],
    ["NaN3", 65.01],
    ["HgCl2", 271.5],
    ["CuSO4·5H2O", 249.685],
    ["MnSO4.H2O", 169.017],
    ["MgSO4*7H2O", 246.475],
    ["Na2S2O3·5H2O", 248.184],
    ["CaCl2·2H2O", 147.015],
    ["FeCl3·6H2O", 270.296],
    ["BaCl2·2H2O", 244.264],
    ["Na2B4O7·10H2O", 381.372],
    ["Al2(SO4)3·18H2O", 666.429],
    ["Fe(NH4)2(SO4)2·6H2O", 392.139],
    ["K3[Fe(CN)6]", 329.244],
    ["K4[Fe(CN)6]·3H2O", 422.388],
    ["C10H14N2Na2O8·2H2O", 372.238],
    ["KHC8H4O4", 204.222],
    ["SO4^2-", 96.063],
    ["NH₄⁺", 18.039],
    ["PO₄³⁻", 94.971],
  ])("%s", (formula, mass) => {
    expect(outputs("molar-mass", { formula }).molar_mass_g_mol).toBeCloseTo(mass, 1);
    expect(Math.abs((outputs("molar-mass", { formula }).molar_mass_g_mol ?? 0) / mass - 1)).toBeLessThan(
      1e-4,
    );
  });

  it.each([
    ["Ca2+", "Write the charge as Ca^2+."],
    ["CuSO4·", "A part of it is empty."],
    ["Ca(OH", "A bracket is not closed."],
    ["CaOH)2", "A bracket closes that was not opened."],
    ["Xy2", "Xy is no element that is known here."],
    ["caco3", "is not understood."],
    ["H0", "A count of 0"],
  ])("are refused with what is wrong: %s", (formula, words) => {
    expect(refusal("molar-mass", { formula })).toContain(words);
  });
});

describe("what is weighed out", () => {
  const litre = { volume_ml: 1000 };
  // Source: Standard Methods for the Examination of Water and Wastewater; stock solutions of the sections named, as they
  // are rounded there; from memory.
  it.each([
    ["4500-NO3: 100 mg/L NO3-N", { formula: "KNO3", target: 100, basis: "mg_l", species: "NO3-N" }, 0.7218],
    ["4500-NO2: 250 mg/L NO2-N", { formula: "NaNO2", target: 250, basis: "mg_l", species: "NO2-N" }, 1.232],
    ["4500-NH3: 1000 mg/L NH3-N", { formula: "NH4Cl", target: 1000, basis: "mg_l", species: "NH3-N" }, 3.819],
    ["4500-P: 50 mg/L PO4-P", { formula: "KH2PO4", target: 50, basis: "mg_l", species: "PO4-P" }, 0.2195],
    ["4500-Cl: 500 mg/L Cl", { formula: "NaCl", target: 500, basis: "mg_l", species: "Cl" }, 0.8241],
    ["4500-O: 0.025 N thiosulfate", { formula: "Na2S2O3·5H2O", target: 0.025, basis: "eq_l" }, 6.205],
    ["2340: 0.01 M EDTA", { formula: "C10H14N2Na2O8·2H2O", target: 0.01, basis: "mol_l" }, 3.723],
    ["5220: 0.25 N dichromate", { formula: "K2Cr2O7", target: 0.25, basis: "eq_l", equivalents: 6 }, 12.259],
    ["4500-Cl: 0.0141 N silver nitrate", { formula: "AgNO3", target: 0.0141, basis: "mol_l" }, 2.395],
    ["2510: 0.01 M potassium chloride", { formula: "KCl", target: 0.01, basis: "mol_l" }, 0.7456],
  ])("%s", (_source, inputs, grams) => {
    const mass = outputs("preparation", { ...inputs, ...litre }).mass_g ?? 0;
    expect(Math.abs(mass / grams - 1)).toBeLessThan(1e-3);
  });

  it("is more of an impure salt, and as an ion less than as its element", () => {
    const stock = { formula: "KNO3", target: 1000, basis: "mg_l", ...litre };
    expect(outputs("preparation", { ...stock, species: "NO3-N", purity_percent: 98 }).mass_g).toBeCloseTo(
      7.365,
      3,
    );
    expect(outputs("preparation", { ...stock, species: "NO3" }).mass_g).toBeCloseTo(1.6306, 3);
    expect(outputs("preparation", stock).mass_g).toBeCloseTo(1, 9);
    expect(refusal("preparation", { ...stock, species: "PO4-P" })).toContain("There is no P in it.");
    expect(codes("preparation", { ...stock, target: 1 })).toEqual(["small-mass"]);
  });
});

describe("dilutions", () => {
  it("give whichever of the four is left empty", () => {
    // Source: c1 · V1 = c2 · V2, by hand.
    expect(outputs("dilution", { c1: 1000, c2: 50, v2: 100 })).toMatchObject({ v1: 5, factor: 20 });
    expect(outputs("dilution", { v1: 5, c2: 50, v2: 100 }).c1).toBeCloseTo(1000, 9);
    expect(outputs("dilution", { c1: 1000, v1: 5, v2: 100 }).c2).toBeCloseTo(50, 9);
    expect(outputs("dilution", { c1: 1000, v1: 5, c2: 50 }).v2).toBeCloseTo(100, 9);
  });

  it("are refused where nothing, or nothing sensible, is left to work out", () => {
    expect(refusal("dilution", { c1: 1000, c2: 50 })).toContain("three of the four");
    expect(refusal("dilution", { c1: 1000, v1: 5, c2: 50, v2: 100 })).toContain("Leave the one empty");
    expect(refusal("dilution", { c1: 50, c2: 1000, v2: 100 })).toContain("never stronger");
    expect(refusal("dilution", { c1: 50, v1: 100, v2: 10 })).toContain("never stronger");
  });

  it("warn of what cannot be measured well", () => {
    expect(codes("dilution", { c1: 1000, c2: 1, v2: 100 })).toEqual(["large-factor", "small-volume"]);
    expect(codes("dilution", { c1: 1000, c2: 50, v2: 100 })).toEqual([]);
  });
});

describe("from concentrated acid", () => {
  it("agrees with the volumes of the tables, and always says how it is poured", () => {
    // Source: Standard Methods, table of acid solutions: 83 mL of hydrochloric acid for 1 L of 1 N; from memory.
    const acid = {
      density_g_ml: 1.19,
      mass_percent: 37,
      molar_mass_g_mol: 36.458,
      target_mol_l: 1,
      volume_ml: 1000,
    };
    const { stock_mol_l, stock_volume_ml } = outputs("concentrated-acid", acid);
    expect(stock_mol_l).toBeCloseTo(12.08, 2);
    expect(stock_volume_ml).toBeCloseTo(82.8, 1);
    expect(codes("concentrated-acid", acid)).toEqual(["acid-into-water"]);
    expect(refusal("concentrated-acid", { ...acid, target_mol_l: 13 })).toContain("nothing stronger");
  });
});

describe("recovery of a known addition", () => {
  const spike = { unspiked: 2, sample_ml: 100, spike_ml: 1, spike_concentration: 300 };
  it("takes the change of volume into account", () => {
    // By hand: (4.9 · 101 − 2 · 100) / 300.
    expect(outputs("spike-recovery", { ...spike, spiked: 4.9 }).recovery_percent).toBeCloseTo(98.3, 1);
    const whole = (2 * 100 + 300) / 101;
    expect(outputs("spike-recovery", { ...spike, spiked: whole }).recovery_percent).toBeCloseTo(100, 9);
  });

  it("warns of a recovery that is out, and of an addition that says little", () => {
    expect(codes("spike-recovery", { ...spike, spiked: 3.5 })).toEqual(["recovery-out"]);
    expect(codes("spike-recovery", { ...spike, unspiked: 4, spiked: 6.9 })).toContain("small-spike");
    expect(codes("spike-recovery", { ...spike, spike_ml: 10, spiked: 28 })).toContain("large-volume");
  });
});

describe("the purge of a well", () => {
  // Source: volume of a cylinder; the figures are common practice.
  it("of 10 m of water in a casing of 150 mm takes three times 177 L, about 18 min at 0.5 L/s", () => {
    const well = { depth_m: 24, water_level_m: 14, diameter_mm: 150, flow_l_s: 0.5 };
    const { column_m, casing_volume_l, purge_volume_l, minutes } = outputs("purge", well);
    expect(column_m).toBe(10);
    expect(casing_volume_l).toBeCloseTo(176.7, 1);
    expect(purge_volume_l).toBeCloseTo(530.1, 1);
    expect(minutes).toBeCloseTo(17.7, 1);
    expect(codes("purge", well)).toEqual(["submersible"]);
    expect(codes("purge", { ...well, depth_m: 3, water_level_m: 2.5 })).toEqual(["short-column"]);
    expect(refusal("purge", { ...well, water_level_m: 25 })).toContain("same point");
  });
});

describe("planned dilutions", () => {
  const glass = { pipettes_ml: [1, 10], flasks_ml: [100, 1000] };
  // Source: ASTM E969 and E288, triangular: √((0.02/10)² + (0.3/1000)²) / √6.
  it("put the least uncertain way first, with its uncertainty", () => {
    const answer = calculate("dilution-plan", { stock: 1000, target: 10, final_volume_ml: 100, ...glass });
    if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
    const [best] = answer.outputs.plans as { steps: object[]; relative_uncertainty: number }[];
    expect(best?.steps).toEqual([{ pipette_ml: 10, flask_ml: 1000 }]);
    expect(best?.relative_uncertainty).toBeCloseTo(Math.sqrt(0.002 ** 2 + 0.0003 ** 2) / Math.sqrt(6), 12);
  });
  it("say what comes nearest, what one piece taken twice does, and what cannot be", () => {
    const inputs = { stock: 1000, final_volume_ml: 100, pipettes_ml: [10], flasks_ml: [100] };
    expect(codes("dilution-plan", { ...inputs, target: 37 })).toContain("not-exact");
    expect(codes("dilution-plan", { ...inputs, target: 10 })).toContain("same-pieces");
    expect(refusal("dilution-plan", { ...inputs, target: 2000 })).toContain("target: A dilution is never");
    expect(refusal("dilution-plan", { ...inputs, target: 10, final_volume_ml: 500 })).toContain(
      "pipettes_ml",
    );
    expect(refusal("dilution-series", { ...inputs, targets: [37, 10] })).toContain("not every level");
    expect(refusal("dilution-series", { ...inputs, targets: [10, 1000] })).toContain("targets.1");
  });
  it("make six levels of one stock exactly", () => {
    const targets = [0.05, 0.1, 0.25, 0.5, 1, 2];
    const answer = calculate("dilution-series", {
      stock: 1000,
      targets,
      final_volume_ml: 100,
      pipettes_ml: [1, 2, 5, 10, 20, 25],
      flasks_ml: [50, 100, 200, 250, 500, 1000],
    });
    if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
    expect((answer.outputs.levels as { target: number }[]).map((l) => l.target)).toEqual(targets);
    expect((answer.outputs.intermediates as object[]).length).toBeGreaterThan(0);
  });
});

describe("solutions from solutions", () => {
  it("are diluted again and again", () => {
    const answer = calculate("serial-dilution", { stock: 1000, factor: 10, steps: 3, volume_ml: 10 });
    if ("errors" in answer) throw new Error(JSON.stringify(answer.errors));
    expect(answer.outputs).toMatchObject({ transfer_ml: 1, diluent_ml: 9 });
    expect((answer.outputs.tubes as { concentration: number }[]).map((t) => t.concentration)).toEqual([
      100, 10, 1,
    ]);
    expect(codes("serial-dilution", { stock: 1, factor: 200, steps: 1, volume_ml: 1 })).toEqual([
      "large-factor",
      "small-volume",
    ]);
  });
  // Source: common practice; 10 · 37.5 + 2 · 62.5 = 5 · 100.
  it("are mixed by the rule of the cross", () => {
    expect(outputs("mixing", { stronger: 10, weaker: 2, target: 5, volume_ml: 100 })).toEqual({
      stronger_ml: 37.5,
      weaker_ml: 62.5,
    });
    expect(refusal("mixing", { stronger: 10, weaker: 2, target: 1, volume_ml: 100 })).toContain(
      "between 2.000 and",
    );
    expect(refusal("mixing", { stronger: 2, weaker: 2, target: 2, volume_ml: 100 })).toContain("weaker");
  });
});

describe("the strength of a titrant", () => {
  const inputs = { standard_normality: 0.025, standard_ml: 20, titrant_ml: [19.92, 19.9, 19.94] };
  // Source: equivalence N1 · V1 = N2 · V2, worked by hand: 0.025 · 20 / 19.92 = 0.025100.
  it("follows from what a standard took of it, with the uncertainty of its mean", () => {
    const found = outputs("standardisation", inputs);
    expect(found.normality).toBeCloseTo(0.0251, 6);
    expect(found.spread_percent).toBeCloseTo(0.1004, 3);
    expect(found.standard_uncertainty).toBeCloseTo((0.0251 * 0.001004) / Math.sqrt(3), 8);
    expect(found.accepted).toBe(true);
    const doubtful = outputs("standardisation", { ...inputs, standard_relative_uncertainty: 0.002 });
    expect(doubtful.standard_uncertainty).toBeCloseTo(Math.hypot(0.0000145, 0.0251 * 0.002), 6);
  });
  // Source: relative spread of replicates, 0.2 % at the bench, 1 % in the field: common practice.
  it("is accepted within 0.2 % at the bench and 1 % in the field", () => {
    const apart = { ...inputs, titrant_ml: [20, 20.1] };
    expect(codes("standardisation", apart)).toEqual(["spread"]);
    expect(codes("standardisation", { ...apart, place: "field" })).toEqual([]);
    expect(refusal("standardisation", { ...inputs, blank_ml: 19.9 })).toContain("titrant_ml.1");
  });
});

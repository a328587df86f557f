import { describe, expect, it } from "vitest";
import { compensateLinear, compensateNatural } from "../../core/reference/conductivity";
import { oxygenSaturation, stationPressure } from "../../core/reference/oxygen";
import { redoxPotential } from "../../core/reference/redox";
import { practicalSalinity } from "../../core/reference/salinity";
import { kclStandards, saltConductivity } from "../../core/reference/saltStandards";

describe("oxygen saturation", () => {
  // Source: Benson & Krause 1984; USGS Office of Water Quality Technical Memorandum 2011.03, table at 1 atm.
  it.each([
    [0, 0, 14.62],
    [5, 0, 12.77],
    [10, 0, 11.29],
    [15, 0, 10.08],
    [20, 0, 9.09],
    [25, 0, 8.26],
    [30, 0, 7.56],
    [35, 0, 6.95],
    [40, 0, 6.41],
    [0, 35, 11.45],
    [10, 35, 9.02],
    [20, 35, 7.4],
    [30, 35, 6.24],
  ])("at %d °C and S %d is %d mg/L", (t, s, mgL) => {
    expect(Math.abs(oxygenSaturation(t, 1013.25, s) - mgL)).toBeLessThanOrEqual(0.02);
  });

  it("agrees with an independent equation within 1 % in fresh water", () => {
    // Source: Weiss 1970, Deep-Sea Research 17, from memory: ln C (mL/L) with A1…A4; 1.42905 mg per mL.
    const weiss = (t: number) => {
      const k = (t + 273.15) / 100;
      return 1.42905 * Math.exp(-173.4292 + 249.6339 / k + 143.3483 * Math.log(k) - 21.8492 * k);
    };
    for (let t = 0; t <= 36; t += 2) expect(Math.abs(oxygenSaturation(t) / weiss(t) - 1)).toBeLessThan(0.01);
  });

  it("agrees with a second equation within 0.02 mg/L, fresh and salt", () => {
    // Source: Garcia & Gordon 1992, Limnology and Oceanography 37, fit to Benson & Krause's data (µmol/kg, from memory);
    // 31.9988 g/mol; density of seawater by the one-atmosphere equation of UNESCO 1981 (from memory).
    const a = [5.80871, 3.20291, 4.17887, 5.10006, -9.86643e-2, 3.80369];
    const b = [-7.01577e-3, -7.70028e-3, -1.13864e-2, -9.51519e-3];
    const density = (t: number, s: number) => {
      const pure =
        999.842594 +
        6.793952e-2 * t -
        9.09529e-3 * t ** 2 +
        1.001685e-4 * t ** 3 -
        1.120083e-6 * t ** 4 +
        6.536332e-9 * t ** 5;
      const k = 0.824493 - 4.0899e-3 * t + 7.6438e-5 * t ** 2 - 8.2467e-7 * t ** 3 + 5.3875e-9 * t ** 4;
      const m = -5.72466e-3 + 1.0227e-4 * t - 1.6546e-6 * t ** 2;
      return (pure + k * s + m * s ** 1.5 + 4.8314e-4 * s ** 2) / 1000;
    };
    const garcia = (t: number, s: number) => {
      const ts = Math.log((298.15 - t) / (273.15 + t));
      const poly = (c: number[]) => c.reduce((sum, v, i) => sum + v * ts ** i, 0);
      return (Math.exp(poly(a) + s * poly(b) - 2.75915e-7 * s * s) * density(t, s) * 31.9988) / 1000;
    };
    for (const s of [0, 35]) {
      for (let t = 0; t <= 40; t += 2.5) {
        expect(Math.abs(oxygenSaturation(t, 1013.25, s) - garcia(t, s)), `${t} °C, S ${s}`).toBeLessThan(
          0.02,
        );
      }
    }
  });

  it("nearly follows the pressure, a little more steeply because of the vapour", () => {
    const ratio = oxygenSaturation(20, 911.925) / oxygenSaturation(20);
    expect(ratio).toBeLessThan(0.9);
    expect(ratio).toBeGreaterThan(0.89);
  });
});

describe("pressure at the station", () => {
  // Source: international standard atmosphere, table: 1000 m 898.75 hPa, 2000 m 794.95 hPa.
  it.each([
    [0, 1013.25],
    [1000, 898.75],
    [2000, 794.95],
  ])("at %d m is %d hPa", (altitude, hpa) => {
    expect(Math.abs(stationPressure(1013.25, altitude) - hpa)).toBeLessThan(0.1);
  });
});

describe("compensation of conductivity", () => {
  it("changes nothing at 25 °C", () => {
    expect(compensateLinear(1000, 25)).toBe(1000);
    expect(Math.abs(compensateNatural(1000, 25) / 1000 - 1)).toBeLessThan(0.0005);
  });
  // Source: EN 27888, table of factors f25 for natural waters, from memory: 10 °C 1.428, 15 °C 1.254, 20 °C 1.116.
  it.each([
    [10, 1.428],
    [15, 1.254],
    [20, 1.116],
    [30, 0.905],
  ])("of natural water at %d °C is a factor of %d", (t, factor) => {
    expect(Math.abs(compensateNatural(1, t) / factor - 1)).toBeLessThan(0.005);
  });
  it("is without a jump and falls with temperature", () => {
    for (let t = 0.1; t <= 35; t += 0.1) {
      const step = compensateNatural(1, t) - compensateNatural(1, t - 0.1);
      expect(step).toBeLessThan(0);
      expect(step).toBeGreaterThan(-0.01);
    }
  });
});

describe("salt standards", () => {
  // Source: Standard Methods 2510, KCl at 25 °C (from memory).
  it.each(kclStandards)("KCl %d mol/L is %d µS/cm at 25 °C", (molar, kappa) => {
    const found = saltConductivity("KCl", molar);
    expect(found.ok && Math.abs(found.value / kappa - 1)).toBeLessThan(0.002);
  });
  it("100 mg/L sodium chloride is about 210 µS/cm at 25 °C and 188 at 20 °C", () => {
    // Source: common practice (a technician expects 188 and reads 189 near 20 °C).
    const molar = 0.1 / 58.443;
    const at25 = saltConductivity("NaCl", molar);
    const at20 = saltConductivity("NaCl", molar, 20);
    expect(at25.ok && Math.abs(at25.value - 210)).toBeLessThan(1.5);
    expect(at20.ok && Math.abs(at20.value - 188)).toBeLessThan(1.5);
  });
  it("join where one equation hands over to the next", () => {
    for (const salt of ["KCl", "NaCl"] as const) {
      const below = saltConductivity(salt, 0.002);
      const above = saltConductivity(salt, 0.0020001);
      if (!below.ok || !above.ok) throw new Error("refused");
      expect(Math.abs(above.value / below.value - 1)).toBeLessThan(0.005);
    }
  });
  it("are refused where nothing is known", () => {
    expect(saltConductivity("NaCl", 0.05).ok).toBe(false);
    expect(saltConductivity("KCl", 0.2).ok).toBe(false);
  });
});

describe("practical salinity", () => {
  it("is 35 for standard seawater", () => {
    // Source: UNESCO 1981, Technical Papers in Marine Science 36: C(35, 15 on the 1968 scale, 0) = 42.914 mS/cm.
    expect(practicalSalinity(42.914, 15 / 1.00024)).toBeCloseTo(35, 4);
    expect(Math.abs(practicalSalinity(42.9175, 15) - 35)).toBeLessThan(0.001);
  });
  it("comes back from the conductivity it was made from, for S 2 to 42 at five temperatures", () => {
    // Source: PSS-78 written anew here (UNESCO 1981), solved for the conductivity by bisection.
    const a = [0.008, -0.1692, 25.3851, 14.0941, -7.0261, 2.7081];
    const b = [0.0005, -0.0056, -0.0066, -0.0375, 0.0636, -0.0144];
    const salinityOf = (ratio: number, t68: number) =>
      a.reduce((sum, v, i) => sum + v * ratio ** (i / 2), 0) +
      ((t68 - 15) / (1 + 0.0162 * (t68 - 15))) * b.reduce((sum, v, i) => sum + v * ratio ** (i / 2), 0);
    for (const t of [0, 10, 15, 25, 35]) {
      const t68 = 1.00024 * t;
      const rt =
        0.6766097 + 2.00564e-2 * t68 + 1.104259e-4 * t68 ** 2 - 6.9698e-7 * t68 ** 3 + 1.0031e-9 * t68 ** 4;
      for (let s = 2; s <= 42; s += 4) {
        let [low, high] = [0, 2];
        for (let i = 0; i < 80; i++) {
          const middle = (low + high) / 2;
          if (salinityOf(middle, t68) < s) low = middle;
          else high = middle;
        }
        expect(Math.abs(practicalSalinity(low * rt * 42.914, t) - s), `S ${s}, ${t} °C`).toBeLessThan(0.001);
      }
    }
  });
  it("is 20.8061 for 30 mS/cm at 20 °C", () => {
    // Source: UNESCO 1983, Technical Paper 44, recomputed.
    expect(Math.abs(practicalSalinity(30, 20) - 20.8061)).toBeLessThan(0.001);
  });
});

describe("redox standards", () => {
  it("agree with the published equation and with practice", () => {
    // Source: Nordstrom 1977, Eh at 25 °C 430 mV; common practice: quinhydrone in pH 4 reads about 263 mV.
    const iron = redoxPotential("iron-cyanide", 25, "she");
    expect(iron.ok && iron.value).toBeCloseTo(430.28, 6);
    const quinhydrone = redoxPotential("quinhydrone-4", 25, "agcl-sat");
    expect(quinhydrone.ok && Math.abs(quinhydrone.value - 263)).toBeLessThan(3);
    const seven = redoxPotential("quinhydrone-7", 25, "agcl-sat");
    expect(seven.ok && Math.abs(seven.value - 87)).toBeLessThan(3);
  });
  it("are not given outside the buffer's table", () => {
    expect(redoxPotential("quinhydrone-4", 55, "she").ok).toBe(false);
  });
});

import { err, ok, type Result } from "../quantity/result";

export type Salt = "KCl" | "NaCl";

/** Molar masses in g/mol. Source: IUPAC standard atomic weights. */
export const saltMolarMass: Record<Salt, number> = { KCl: 74.551, NaCl: 58.443 };

/** Limiting molar conductivity at 25 °C, S·cm²/mol; temperature coefficient, % of the 25 °C value per °C. */
const salts = {
  KCl: { limiting: 149.85, percentPerC: 1.91 },
  NaCl: { limiting: 126.45, percentPerC: 2.1 },
};

/** Potassium chloride at 25 °C: mol/L and µS/cm. Source: Standard Methods 2510 (from memory). */
export const kclStandards: readonly [molar: number, conductivity: number][] = [
  [0.0005, 73.9],
  [0.001, 146.9],
  [0.005, 717.5],
  [0.01, 1412],
  [0.02, 2765],
  [0.05, 6667],
  [0.1, 12_890],
];

const diluteLimit = 0.002;

/** Λ = Λ0 − (60.2 + 0.229 Λ0) √c, for 1:1 salts up to 0.002 mol/L. Source: Debye-Hückel-Onsager at 25 °C. */
const diluteMolar = (limiting: number, c: number) => limiting - (60.2 + 0.229 * limiting) * Math.sqrt(c);

/** Λ of potassium chloride above 0.002 mol/L: interpolated in √c between the standards. */
function kclMolar(c: number): number {
  const rows = kclStandards.map(([molar, kappa]) => ({
    root: Math.sqrt(molar),
    molar: kappa / (1000 * molar),
  }));
  const root = Math.sqrt(c);
  const upper = rows.findIndex((row) => row.root >= root - 1e-12);
  const [low, high] = [rows[upper - 1], rows[upper]];
  if (!low || !high) return Number.NaN;
  return low.molar + ((root - low.root) / (high.root - low.root)) * (high.molar - low.molar);
}

/**
 * Conductivity in µS/cm of a potassium or sodium chloride solution at a temperature in °C; concentration in mol/L.
 * Errors: `too-strong` above 0.1 mol/L (KCl) or 0.02 mol/L (NaCl), where nothing here was fitted.
 * Source: Onsager below 0.002 mol/L; Standard Methods 2510 table for KCl; a fit to handbook values for NaCl (memory).
 * Check value: 0.01 mol/L KCl at 25 °C is 1412 µS/cm.
 */
export function saltConductivity(salt: Salt, molar: number, temperatureC = 25): Result<number> {
  const { limiting, percentPerC } = salts[salt];
  const strongest = salt === "KCl" ? 0.1 : 0.02;
  if (molar > strongest * (1 + 1e-9)) {
    return err("too-strong", `Above ${strongest} mol/L ${salt} nothing reliable is known here. Dilute it.`);
  }
  const molarConductivity =
    molar <= diluteLimit
      ? diluteMolar(limiting, molar)
      : salt === "KCl"
        ? kclMolar(molar)
        : 126.45 - 89.2 * Math.sqrt(molar) + 95 * molar;
  return ok(molarConductivity * molar * 1000 * (1 + (percentPerC / 100) * (temperatureC - 25)));
}

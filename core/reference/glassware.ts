/** Tolerances of class A single-mark pipettes, mL by mL. Source: ASTM E969. */
const pipettes: readonly [volume_ml: number, tolerance_ml: number][] = [
  [1, 0.006],
  [2, 0.006],
  [3, 0.01],
  [4, 0.01],
  [5, 0.01],
  [10, 0.02],
  [15, 0.03],
  [20, 0.03],
  [25, 0.03],
  [50, 0.05],
  [100, 0.08],
];

/** Tolerances of class A volumetric flasks, mL by mL. Source: ASTM E288. */
const flasks: readonly [volume_ml: number, tolerance_ml: number][] = [
  [10, 0.02],
  [25, 0.03],
  [50, 0.05],
  [100, 0.08],
  [200, 0.1],
  [250, 0.12],
  [500, 0.2],
  [1000, 0.3],
];

export const pipetteVolumes: readonly number[] = pipettes.map(([v]) => v);
export const flaskVolumes: readonly number[] = flasks.map(([v]) => v);

/** The tolerance of a size that is not in the table is that of the next larger one, and of what is larger than all its share. */
function toleranceIn(table: readonly (readonly [number, number])[], volume_ml: number): number {
  const next = table.find(([v]) => v >= volume_ml - 1e-9);
  if (next) return next[1];
  const [largest, tolerance] = table.at(-1) ?? [1, 0];
  return (tolerance * volume_ml) / largest;
}

/** Tolerance of a class A pipette, mL. Source: ASTM E969. Check value: 10 mL is ± 0.02. */
export const pipetteTolerance = (volume_ml: number): number => toleranceIn(pipettes, volume_ml);

/** Tolerance of a class A flask, mL. Source: ASTM E288. Check value: 100 mL is ± 0.08. */
export const flaskTolerance = (volume_ml: number): number => toleranceIn(flasks, volume_ml);

/** The relative standard uncertainty of a volume within a tolerance, triangular. Check value: 0.02 in 10 mL is 0.082 %. */
export const relativeUncertainty = (volume_ml: number, tolerance_ml: number): number =>
  tolerance_ml / Math.sqrt(6) / volume_ml;

import type { Channel, MeterSnapshot } from "../bench/meter";
import type { Measurand } from "../quantity/measurand";
import { type BufferId, phBuffers } from "../reference/phBuffers";
import { type RedoxStandard, redoxPotential } from "../reference/redox";
import type { StandardKind, StandardSnapshot } from "../stock/standard";

/** Standards and meters as tests and trials use them: in date, healthy, the same everywhere. */

const snapshot = (
  kind: StandardKind,
  measurand: Measurand,
  change: Partial<StandardSnapshot> & Pick<StandardSnapshot, "nominal" | "table">,
): StandardSnapshot => ({
  id: `lot-${kind}-${change.nominal}`,
  version: 1,
  kind,
  measurand,
  code: `L-${change.nominal}`,
  name: `${kind} ${change.nominal}`,
  material: "",
  reference: null,
  uncertainty: 0,
  opened_on: "2026-04-01",
  good_until: "2026-06-30",
  condition: "good",
  condition_sentence: "Good until 30 Jun 2026.",
  reason_for_use: null,
  ...change,
});

export function bufferStandard(buffer: BufferId, change: Partial<StandardSnapshot> = {}): StandardSnapshot {
  const { table, name } = phBuffers[buffer];
  return snapshot("ph-buffer", "ph", {
    nominal: table[5]?.value ?? 7,
    table,
    name,
    material: buffer,
    uncertainty: 0.01,
    ...change,
  });
}

/** A potassium chloride standard of a value at 25 °C, with 1.91 % per °C. */
export const conductivityStandard = (
  at25: number,
  change: Partial<StandardSnapshot> = {},
): StandardSnapshot =>
  snapshot("conductivity-standard", "conductivity", {
    nominal: at25,
    table: Array.from({ length: 9 }, (_, i) => ({
      temperature_c: i * 5,
      value: at25 * (1 + 0.0191 * (i * 5 - 25)),
    })),
    uncertainty: at25 * 0.005,
    ...change,
  });

export const zeroSolution = (): StandardSnapshot =>
  snapshot("zero-oxygen", "oxygen", {
    nominal: 0,
    table: [{ temperature_c: 25, value: 0 }],
    name: "Sodium sulfite 20 g/L",
  });

export function redoxStandard(material: RedoxStandard): StandardSnapshot {
  const table = [10, 15, 20, 25, 30].map((temperature_c) => {
    const value = redoxPotential(material, temperature_c, "agcl-sat");
    return { temperature_c, value: value.ok ? value.value : Number.NaN };
  });
  return snapshot("redox-standard", "redox", {
    nominal: table[3]?.value ?? Number.NaN,
    table,
    material,
    reference: "agcl-sat",
    uncertainty: 5,
  });
}

export const absorbanceStandard = (absorbance: number): StandardSnapshot =>
  snapshot("absorbance-standard", "absorbance", {
    nominal: absorbance,
    table: [{ temperature_c: 25, value: absorbance }],
    uncertainty: 0.003,
  });

export const concentrationStandard = (mgL: number): StandardSnapshot =>
  snapshot("concentration-standard", "absorbance", {
    nominal: mgL,
    table: [{ temperature_c: 25, value: mgL }],
    uncertainty: mgL * 0.01,
  });

export const channel = (measurand: Measurand, change: Partial<Channel> = {}): Channel => ({
  measurand,
  display: "signal",
  compensation: "raw",
  coefficient_percent_per_c: 1.91,
  reference: "agcl-sat",
  nominal_ml: 10,
  resolution: 0.01,
  accuracy: null,
  sensor_id: `sensor-${measurand}`,
  sensor_since: "2025-05-01",
  ...change,
});

export const meterWith = (channels: Channel[], change: Partial<MeterSnapshot> = {}): MeterSnapshot => ({
  id: "meter",
  code: "M-1",
  name: "Bench meter",
  place: "bench",
  has_cable: true,
  channels,
  ...change,
});

import { formatNumber } from "../quantity/format";
import { type BufferId, phBuffers } from "../reference/phBuffers";
import {
  type RedoxStandard,
  type ReferenceElectrode,
  redoxPotential,
  redoxStandards,
} from "../reference/redox";
import type { CertifiedValue, StandardKind } from "./standard";

const redoxNames: Record<RedoxStandard, string> = {
  "iron-cyanide": "Iron cyanide redox standard",
  "quinhydrone-4": "Quinhydrone in buffer 4",
  "quinhydrone-7": "Quinhydrone in buffer 7",
};

/**
 * The table a new lot starts with: a buffer's or redox standard's own, a conductivity standard's from its value at
 * 25 °C and its coefficient, one row for the rest. A certificate may override it.
 * Units: those of the kind; °C. Source: {@link phBuffers}, {@link redoxPotential}, linear coefficient.
 * Check value: 1413 µS/cm with 1.91 %/°C is 1278 at 20 °C.
 */
export function certifiedTable(
  kind: StandardKind,
  material: string,
  reference: string | null,
  typed: { value_25: number; percent_per_c: number },
): { name: string; table: CertifiedValue[] } {
  const one = (value: number): CertifiedValue[] => [{ temperature_c: 25, value }];
  switch (kind) {
    case "ph-buffer": {
      const buffer = phBuffers[material as BufferId];
      return { name: buffer?.name ?? "", table: buffer?.table ?? [] };
    }
    case "conductivity-standard": {
      const percent = Number.isFinite(typed.percent_per_c) ? typed.percent_per_c : 1.91;
      return {
        name: `Conductivity ${formatNumber(typed.value_25, 0)} µS/cm`,
        table: [0, 5, 10, 15, 20, 25, 30, 35, 40].map((temperature_c) => ({
          temperature_c,
          value: typed.value_25 * (1 + (percent / 100) * (temperature_c - 25)),
        })),
      };
    }
    case "zero-oxygen":
      return { name: "Sodium sulfite, 20 g/L", table: one(0) };
    case "redox-standard": {
      if (!(redoxStandards as readonly string[]).includes(material)) return { name: "", table: one(0) };
      const standard = material as RedoxStandard;
      const table = [5, 10, 15, 20, 25, 30, 35].flatMap((temperature_c) => {
        const value = redoxPotential(standard, temperature_c, (reference ?? "she") as ReferenceElectrode);
        return value.ok ? [{ temperature_c, value: value.value }] : [];
      });
      return { name: redoxNames[standard], table };
    }
    case "absorbance-standard":
      return { name: `Absorbance ${formatNumber(typed.value_25, 3)} A`, table: one(typed.value_25) };
    case "concentration-standard":
      return { name: `Curve standard ${formatNumber(typed.value_25, 2)} mg/L`, table: one(typed.value_25) };
  }
}

import type { Conditions, PlannedStation } from "../calibration/planned";
import { certifiedValue } from "../reference/certificate";
import { referenceElectrodes } from "../reference/redox";
import type { StandardSnapshot } from "../stock/standard";
import { type Medium, mediumOf } from "./medium";

export const roomTemperature = 20.4;

/** Pure water from the wash bottle. */
export const rinseWater = mediumOf({ label: "rinse water", kind: "rinse", ph: 6, conductivity_25: 0.8 });

const valueAt = (standard: StandardSnapshot, temperatureC: number): number => {
  const value = certifiedValue(standard.table, temperatureC);
  return value.ok ? value.value : standard.nominal;
};

/** How a conductivity standard follows the temperature, % per °C, read off its own table. */
function percentPerC(standard: StandardSnapshot): number {
  const [at20, at25] = [valueAt(standard, 20), valueAt(standard, 25)];
  return ((1 - at20 / at25) / 5) * 100;
}

/** What really stands in the beaker of a station: its standard, fresh, at the temperature of the room. */
export function mediumFor(
  station: PlannedStation,
  label: string,
  surroundings: { conditions: Conditions | null; temperature_c?: number; nominal_ml?: number },
): Medium {
  const { standard, measurand, role } = station;
  const temperature_c = surroundings.temperature_c ?? roomTemperature;
  const pressure_hpa = surroundings.conditions?.pressure_hpa ?? 1013.25;
  const base = { label, kind: "standard" as const, temperature_c, pressure_hpa };
  if (role === "span") return mediumOf({ ...base, kind: "damp-air" });
  if (role === "zero") return mediumOf({ ...base, oxygen_share: 0, conductivity_25: 20_000 });
  if (role === "blank" && measurand !== "absorbance") return { ...rinseWater, temperature_c };
  if (measurand === "volume") return mediumOf({ ...base, nominal_ml: surroundings.nominal_ml ?? 1 });
  if (measurand === "temperature") return mediumOf({ ...base, kind: "sample" });
  if (!standard) return mediumOf({ ...base, kind: "sample" });
  switch (standard.kind) {
    case "ph-buffer":
      return mediumOf({ ...base, ph: valueAt(standard, temperature_c), conductivity_25: 8000 });
    case "conductivity-standard":
      return mediumOf({
        ...base,
        conductivity_25: valueAt(standard, 25),
        percent_per_c: percentPerC(standard),
      });
    case "redox-standard":
      return mediumOf({
        ...base,
        // The simulated redox electrode has a saturated silver chloride reference.
        redox_mv:
          valueAt(standard, temperature_c) +
          referenceElectrodes[standard.reference ?? "she"] -
          referenceElectrodes["agcl-sat"],
      });
    case "concentration-standard":
      return mediumOf({ ...base, absorbance: 0.21 * valueAt(standard, temperature_c) });
    default:
      return mediumOf({ ...base, absorbance: valueAt(standard, temperature_c) });
  }
}

import { type HouseRuleGroup, number, range } from "./field";

/** Redox, thermometer, photometer, dispensers: what can be set, and why it stands where it does. */
export const otherMeterRules: HouseRuleGroup = {
  title: "Other meters",
  fields: [
    number(
      "redox.check_mv",
      "Redox standard, within ±",
      "mV",
      "Good electrodes differ by twenty millivolts.",
    ),
    number(
      "redox.duplicate_mv",
      "Duplicates of redox at most apart",
      "mV",
      "Natural waters are poorly poised.",
    ),
    number(
      "temperature.check_c.bench",
      "Thermometer at the bench, within ±",
      "°C",
      "0.2 °C moves oxygen by 0.04 mg/L.",
    ),
    number(
      "temperature.check_c.field",
      "Thermometer in the field, within ±",
      "°C",
      "Half a degree is what the water itself does in the shade of a bank.",
    ),
    number(
      "temperature.every_days",
      "Thermometer check every",
      "days",
      "Thermometers are broken by falls, not by weeks.",
    ),
    number(
      "absorbance.check_percent",
      "Photometer standard, within ±",
      "%",
      "A cuvette turned by a quarter changes as much.",
    ),
    range(
      "absorbance.recovery_percent",
      "Standards of a curve come back as",
      "%",
      "R² alone never passes a curve.",
    ),
    number("absorbance.every_days", "Photometer check every", "days", "Lamps fade slowly."),
    number("volume.error_percent", "Dispenser, mean within ±", "%", "Every titration rests on it."),
    number("volume.scatter_percent", "Dispenser, scatter at most", "%", "A steady hand stays below."),
    number("volume.weighings", "Weighings of a dispenser", "", "Three show a scatter at all."),
    number("volume.every_days", "Dispenser check every", "days", "Tips wear with use."),
  ],
};

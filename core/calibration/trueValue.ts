import type { Capture } from "../bench/capture";
import { measuredOf } from "../bench/measured";
import { channelOf, type MeterSnapshot } from "../bench/meter";
import { err, ok, type Result } from "../quantity/result";
import { certifiedValue } from "../reference/certificate";
import { compensateLinear } from "../reference/conductivity";
import { oxygenSaturation } from "../reference/oxygen";
import { referenceElectrodes } from "../reference/redox";
import type { Conditions, PlannedStation } from "./planned";

/** The little of a calibration that the truth of a standard depends on. */
export interface TruthContext {
  meter: Pick<MeterSnapshot, "channels">;
  conditions: Conditions | null;
}

/**
 * What a station's standard truly is at the moment of a capture, on the footing of the meter: a conductivity at the
 * temperature of the solution for a raw display, at the display's reference temperature for one that compensates.
 * Units: those of the measurand; absorbance standards in A, concentration standards in mg/L, volumes in mL.
 * Errors: `outside-table`, `no-conditions` (oxygen without a pressure), `no-reference`, `outside-oxygen` below 0 or above 40 °C.
 * Check value: saturated air at 20 °C and 1013.25 hPa is 9.09 mg/L.
 */
export function trueValue(
  { meter, conditions }: TruthContext,
  station: PlannedStation,
  capture: Capture,
): Result<number> {
  const { measurand, role, standard } = station;
  const channel = channelOf(meter, measurand);
  if (!channel) return err("wrong-quantity", "This meter does not measure that.");
  if (role === "blank" || role === "zero") return ok(0);
  if (role === "span") return saturatedAir(conditions, capture.temperature_c);
  if (measurand === "volume") return ok(channel.nominal_ml);
  if (!standard) {
    const reference = measuredOf(capture, measurand)?.reference;
    return typeof reference === "number"
      ? ok(reference)
      : err("no-reference", "Type what the reference thermometer shows.");
  }
  if (measurand === "conductivity" && channel.compensation !== "raw") {
    return certifiedValue(standard.table, channel.compensation.startsWith("20") ? 20 : 25);
  }
  const certified = certifiedValue(standard.table, capture.temperature_c);
  if (!certified.ok || measurand !== "redox" || !standard.reference) return certified;
  return ok(
    certified.value + referenceElectrodes[standard.reference] - referenceElectrodes[channel.reference],
  );
}

function saturatedAir(conditions: Conditions | null, temperatureC: number): Result<number> {
  if (!conditions)
    return err("no-conditions", "Without the air pressure nobody knows what saturated air holds.");
  if (temperatureC < 0 || temperatureC > 40) {
    return err("outside-oxygen", "Oxygen in air is known from 0 to 40 °C. Check the temperature.");
  }
  return ok(oxygenSaturation(temperatureC, conditions.pressure_hpa, 0));
}

/**
 * A conductivity display as the value at 25 °C: raw ones by the house rule, others as far as they are not there yet.
 * Units: µS/cm, °C. Check value: a display compensated to 20 °C that shows 1000 is 1106 at 25 °C.
 */
export function displayAt25(
  shown: number,
  channel: { compensation: string; coefficient_percent_per_c: number },
  temperatureC: number,
  compensate: (conductivity: number, temperatureC: number) => number,
): number {
  if (channel.compensation === "raw") return compensate(shown, temperatureC);
  return channel.compensation.startsWith("20")
    ? compensateLinear(shown, 20, channel.coefficient_percent_per_c || 1.91)
    : shown;
}

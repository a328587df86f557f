import { absorbanceCurveCalculator } from "./absorbanceCurve";
import { concentratedAcidCalculator } from "./concentratedAcid";
import { conductivity25Calculator } from "./conductivity25";
import { conductivityStandardCalculator } from "./conductivityStandard";
import type { Answer, BadInput, Calculator } from "./define";
import { dilutionCalculator } from "./dilution";
import { dilutionPlanCalculator, dilutionSeriesCalculator } from "./dilutionPlan";
import { driftCorrectionCalculator } from "./driftCorrection";
import { granAlkalinityCalculator } from "./granAlkalinity";
import { molarMassCalculator } from "./molarMass";
import { oxygenSaturationCalculator } from "./oxygenSaturation";
import { phBufferCalculator } from "./phBuffer";
import { phCalibrationCalculator } from "./phCalibration";
import { phFromMvCalculator } from "./phFromMv";
import { preparationCalculator } from "./preparation";
import { purgeCalculator } from "./purge";
import {
  budgetCalculator,
  controlChartCalculator,
  detectionLimitCalculator,
  dixonCalculator,
  duplicatePrecisionCalculator,
  grubbsCalculator,
} from "./quality";
import { redoxStandardCalculator } from "./redoxStandard";
import {
  duplicatesCalculator,
  freeAmmoniaCalculator,
  hardnessUnitsCalculator,
  speciesCalculator,
} from "./reporting";
import { salinityCalculator } from "./salinity";
import { mixingCalculator, serialDilutionCalculator, standardisationCalculator } from "./solutions";
import { spikeRecoveryCalculator } from "./spikeRecovery";
import { staggerCalculator } from "./stagger";
import { stationPressureCalculator } from "./stationPressure";
import {
  alkalinityTitrationCalculator,
  chlorideTitrationCalculator,
  hardnessTitrationCalculator,
  oxygenTitrationCalculator,
} from "./titrations";

export type { Answer };

/** Every calculator under what it is about, in the order of the page. A new one is added to this list and nowhere else. */
export const calculatorGroups: readonly { title: string; calculators: readonly Calculator[] }[] = [
  {
    title: "pH and redox",
    calculators: [phBufferCalculator, phCalibrationCalculator, phFromMvCalculator, redoxStandardCalculator],
  },
  {
    title: "Conductivity",
    calculators: [conductivity25Calculator, conductivityStandardCalculator, salinityCalculator],
  },
  { title: "Oxygen and pressure", calculators: [oxygenSaturationCalculator, stationPressureCalculator] },
  {
    title: "Titrations",
    calculators: [
      oxygenTitrationCalculator,
      alkalinityTitrationCalculator,
      granAlkalinityCalculator,
      hardnessTitrationCalculator,
      chlorideTitrationCalculator,
    ],
  },
  {
    title: "Curves and drift",
    calculators: [absorbanceCurveCalculator, driftCorrectionCalculator],
  },
  {
    title: "Reporting",
    calculators: [freeAmmoniaCalculator, speciesCalculator, hardnessUnitsCalculator, duplicatesCalculator],
  },
  {
    title: "How sure it is",
    calculators: [
      budgetCalculator,
      controlChartCalculator,
      detectionLimitCalculator,
      duplicatePrecisionCalculator,
      grubbsCalculator,
      dixonCalculator,
    ],
  },
  {
    title: "Making solutions",
    calculators: [
      dilutionCalculator,
      dilutionPlanCalculator,
      dilutionSeriesCalculator,
      serialDilutionCalculator,
      mixingCalculator,
      preparationCalculator,
      molarMassCalculator,
      concentratedAcidCalculator,
      standardisationCalculator,
      spikeRecoveryCalculator,
    ],
  },
  { title: "In the field", calculators: [purgeCalculator] },
  { title: "Planning", calculators: [staggerCalculator] },
];

/** Every calculator. */
export const calculators: readonly Calculator[] = calculatorGroups.flatMap((g) => g.calculators);

const byId = new Map(calculators.map((calculator) => [calculator.id, calculator]));

export const findCalculator = (id: string): Calculator | undefined => byId.get(id);

/**
 * Runs a calculator by its id. An unknown id and bad inputs come back as `errors` with a path and a sentence.
 * Check value: `ph-buffer` with phosphate at 25 °C answers 6.865.
 */
export function calculate(id: string, inputs: unknown): Answer | BadInput {
  const calculator = byId.get(id);
  if (!calculator) {
    const known = calculators.map((c) => c.id).join(", ");
    return { id, errors: [{ path: "id", message: `There is no calculator “${id}”. Known: ${known}.` }] };
  }
  return calculator.run(inputs);
}
